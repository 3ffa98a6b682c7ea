import { alongLine, type QuantityInfo } from '../motion/index.ts'
import { MODEL_GROUPS, MODELS, type Model, type ModelGroup, symbolTex } from './models/index.ts'

/** A model as it is offered for a quantity. */
export interface Offered {
  model: Model
  name: string
  /** TeX of the quantity and what the model says it is equal to; empty for a free form. */
  formula: string
}

/** Models that say something of a quantity against time, by kind of motion, in the order in which they are offered. */
export function offeredModels(
  quantity: QuantityInfo,
): { group: ModelGroup; name: string; models: Offered[] }[] {
  const line = alongLine(quantity.id)
  const setting = {
    ...{ order: line?.order ?? null, letter: line?.place.letter ?? quantity.symbol, isOverTime: true },
    isAngle: (line?.place.dimension ?? quantity.dimension).angle !== 0,
    ...({ form: 'physics', breaks: [], variable: 't', expression: 'a*t', start: {} } as const),
  }
  const left = symbolTex(quantity.symbol, quantity.subscript)
  const offered = Object.values(MODELS).flatMap((model): Offered[] => {
    const law = model.law(setting)
    if (!law) return []
    const right = law.formula(
      law.parameters.map(({ symbol, subscript }) => symbolTex(symbol, subscript)),
      't',
    )
    return [{ model, name: law.name ?? model.name, formula: right === '' ? '' : `${left} = ${right}` }]
  })
  return Object.entries(MODEL_GROUPS).flatMap(([group, name]) => {
    const models = offered.filter(({ model }) => model.group === group)
    return models.length > 0 ? [{ group: group as ModelGroup, name, models }] : []
  })
}
