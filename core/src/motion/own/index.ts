export {
  areAlike,
  type Expression,
  ExpressionError,
  expressionTex,
  FUNCTIONS,
  readExpression,
} from './expression.ts'
export { asName, type KnownNumber, knownNumbers, nameTrouble } from './names.ts'
export { type Defined, definitionTrouble, ownQuantity } from './ownQuantity.ts'
