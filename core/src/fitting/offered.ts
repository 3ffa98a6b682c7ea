import type { ModelId } from '../investigation/index.ts'
import type { QuantityInfo } from '../motion/index.ts'
import { MODEL_GROUPS, MODELS, type Model, type ModelGroup, symbolTex } from './models/index.ts'
import { loopOf, relationOf, settingOf } from './settings.ts'

/** A model as it is offered for a quantity. */
export interface Offered {
  model: Model
  name: string
  /** TeX of the quantity and what the model says it is equal to; empty for a free form. */
  formula: string
}

/** Models of one kind of motion. */
export interface OfferedGroup {
  group: ModelGroup
  name: string
  models: Offered[]
}

/** Models that say something of a quantity against time, by kind of motion, in the order in which they are offered. */
export function offeredModels(quantity: QuantityInfo): OfferedGroup[] {
  const setting = { ...settingOf(quantity), expression: 'a*t' }
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
  return grouped(offered)
}

function grouped(offered: readonly Offered[]): OfferedGroup[] {
  return Object.entries(MODEL_GROUPS).flatMap(([group, name]) => {
    const models = offered.filter(({ model }) => model.group === group)
    return models.length > 0 ? [{ group: group as ModelGroup, name, models }] : []
  })
}

/** Models that tell one quantity by another as well as by the time. */
const RELATIONS: readonly ModelId[] = [
  ...(['uniform', 'proportional', 'uniform-acceleration', 'changing-acceleration'] as const),
  ...(['power', 'square-root', 'reciprocal', 'exponential', 'settling', 'gaussian', 'free-form'] as const),
]

/** Models that say something of two quantities against each other. */
export function offeredRelations(quantity: QuantityInfo, across: QuantityInfo): OfferedGroup[] {
  const [value, along] = [quantity, across].map(({ symbol, subscript }) => symbolTex(symbol, subscript))
  const setting = { ...relationOf(quantity, across), expression: `a*${across.id}` }
  const offered = Object.values(MODELS).flatMap((model): Offered[] => {
    const loop = model.loop?.(loopOf(quantity, across))
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
  return grouped(offered)
}

/** Models of motion by the degree of the polynomial that position is by them. */
const BY_DEGREE = ['rest', 'uniform', 'uniform-acceleration', 'changing-acceleration'] as const

/** The model by which a quantity against time stays as it is, or changes evenly, and the reading that says its mean or its slope. */
export function steadyModel(
  quantity: QuantityInfo,
  what: 'mean' | 'slope',
): { model: ModelId; reading: string } | null {
  const setting = settingOf(quantity)
  const model = BY_DEGREE[(setting.order ?? 0) + (what === 'mean' ? 0 : 1)]
  const reading = MODELS[model].law(setting)?.readings[0].key
  return reading === undefined ? null : { model, reading }
}
