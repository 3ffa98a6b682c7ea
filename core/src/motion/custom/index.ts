export { customQuantity, definitionTrouble } from './customQuantity.ts'
export { type Expression, expressionTex, type Node, parsed, readExpression } from './expression.ts'
export { areAlike, ExpressionError, FUNCTIONS } from './functions.ts'
export { asName, type KnownNumber, knownNumbers, nameTrouble } from './names.ts'
