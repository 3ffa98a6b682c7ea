import type { ModelId } from '../investigation/index.ts'
import type { QuantityInfo } from '../motion/index.ts'
import { MODEL_GROUPS, MODELS, type Model, type ModelGroup, symbolTex } from './models/index.ts'
import { loopOf, relationOf, settingOf } from './settings.ts'

/** A model that can be fitted to a quantity. */
export interface AvailableModel {
  model: Model
  name: string
  /** TeX of the law with the quantity on the left; empty for a free form. */
  formula: string
}

/** Models of one kind of motion. */
export interface AvailableModelGroup {
  group: ModelGroup
  name: string
  models: AvailableModel[]
}

/** Returns the models that can be fitted to a quantity against time, by kind of motion. */
export function availableModels(quantity: QuantityInfo): AvailableModelGroup[] {
  const setting = { ...settingOf(quantity), expression: 'a*t' }
  const left = symbolTex(quantity.symbol, quantity.subscript)
  const available = Object.values(MODELS).flatMap((model): AvailableModel[] => {
    const law = model.law(setting)
    if (!law) return []
    const right = law.formula(
      law.parameters.map(({ symbol, subscript }) => symbolTex(symbol, subscript)),
      't',
    )
    return [{ model, name: law.name ?? model.name, formula: right === '' ? '' : `${left} = ${right}` }]
  })
  return grouped(available)
}

function grouped(available: readonly AvailableModel[]): AvailableModelGroup[] {
  return Object.entries(MODEL_GROUPS).flatMap(([group, name]) => {
    const models = available.filter(({ model }) => model.group === group)
    return models.length > 0 ? [{ group: group as ModelGroup, name, models }] : []
  })
}

/** Models of one quantity as a function of another. */
const RELATIONS: readonly ModelId[] = [
  'uniform',
  'proportional',
  'uniform-acceleration',
  'changing-acceleration',
  'power',
  'square-root',
  'reciprocal',
  'exponential',
  'settling',
  'gaussian',
  'free-form',
]

/** Returns the models that can be fitted to two quantities against each other. */
export function availableRelations(quantity: QuantityInfo, xQuantity: QuantityInfo): AvailableModelGroup[] {
  const [value, along] = [quantity, xQuantity].map(({ symbol, subscript }) => symbolTex(symbol, subscript))
  const setting = { ...relationOf(quantity, xQuantity), expression: `a*${xQuantity.id}` }
  const available = Object.values(MODELS).flatMap((model): AvailableModel[] => {
    const loop = model.loop?.(loopOf(quantity, xQuantity))
    const law = loop || !RELATIONS.includes(model.id) ? null : model.law(setting)
    if (!loop && !law) return []
    const symbols = (loop ?? law!).parameters.map(({ symbol, subscript }) => symbolTex(symbol, subscript))
    const right = loop ? loop.formula(symbols, along, value) : law!.formula(symbols, along)
    return [
      {
        model,
        name: law?.name ?? model.name,
        formula: right === '' || loop ? right : `${value} = ${right}`,
      },
    ]
  })
  return grouped(available)
}

/** Models of motion by the degree of their polynomial of position. */
const BY_DEGREE = ['rest', 'uniform', 'uniform-acceleration', 'changing-acceleration'] as const

/** Returns the model of a constant, or linear, quantity against time, and the reading that is its mean, or slope. */
export function steadyModel(
  quantity: QuantityInfo,
  what: 'mean' | 'slope',
): { model: ModelId; reading: string } | null {
  const setting = settingOf(quantity)
  const model = BY_DEGREE[(setting.order ?? 0) + (what === 'mean' ? 0 : 1)]
  const reading = MODELS[model].law(setting)?.readings[0].key
  return reading === undefined ? null : { model, reading }
}
