export { customQuantity, definitionTrouble } from './customQuantity.ts'
export {
  areAlike,
  type Expression,
  ExpressionError,
  expressionTex,
  FUNCTIONS,
  type Node,
  parsed,
  readExpression,
} from './expression.ts'
export { asName, type KnownNumber, knownNumbers, nameTrouble } from './names.ts'
