import { calculateAll, type KnownValue, knownValues, type ShownCalculation } from '../calculations/index.ts'
import { describeGraph, type GraphDescription } from '../graphs/index.ts'
import { type Graph, type Investigation, inOrder } from '../investigation/index.ts'
import {
  type CustomDefinition,
  CustomDefinitions,
  type KnownNumber,
  knownNumbers,
  type MotionTable,
  motionScales,
  once,
  type QuantityInfo,
  quantityInfo,
  shownTable,
  type TableSettings,
  tablesOf,
} from '../motion/index.ts'
import { composeScene, type InvestigationScene } from '../scene/index.ts'
import { type GraphFit, GraphFits } from './graphFits.ts'

/** Settings of a table, with the axes in which it is measured. */
export interface MotionTableSettings extends TableSettings {
  /** Id of the axes; null: the main ones. */
  axes?: string | null
}

/** What was computed from the parts of a document that scenes and tables depend on. */
export class Computed {
  readonly scenes = new Map<string | null, InvestigationScene>()
  readonly tables = new Map<string, MotionTable>()
  readonly descriptions = new WeakMap<Graph, { description: GraphDescription | null }>()
  readonly fits = new GraphFits()
  definitions: CustomDefinitions | null = null
}

const keyOf = (body: string, { axes = null, derivation = null, other = null }: MotionTableSettings) =>
  `${body} ${axes} ${derivation?.method} ${derivation?.reach} ${derivation?.weighted} ${other}`

/** Everything that follows from a document. It is computed when it is first asked for, and once. */
export class Analysis {
  /** Numbers that expressions can use: constants, references and probes. */
  readonly numbers: () => KnownNumber[]
  /** Numbers that calculations can use: readings of all fits, constants, references, probes and masses. */
  readonly knownValues: () => KnownValue[]
  /** All calculations in order, with their results. */
  readonly calculations: () => ShownCalculation[]
  /** The fits on all graphs, in the graphs' order; see `fits`. */
  readonly allFits: () => GraphFit[]
  private readonly definitions: CustomDefinitions

  /** @param computed what is shared with other documents that differ in nothing that scenes and tables depend on */
  constructor(
    readonly document: Investigation,
    private readonly computed: Computed,
  ) {
    this.numbers = once(() => knownNumbers(document, this.scene()))
    this.definitions = computed.definitions ??= new CustomDefinitions(document, () => this.numbers())
    this.allFits = once(() => inOrder(document.graphs).flatMap(([id]) => this.fits(id)))
    this.knownValues = once(() => knownValues(document, this.numbers(), this.readings()))
    this.calculations = once(() => calculateAll(document, this.knownValues()))
  }

  /**
   * Returns the map from the pictures to the scene: in metres as soon as a reference length, a known motion or a plane gives
   * a scale, in pixels until then.
   *
   * @param axes by id; null: the main ones
   */
  scene(axes: string | null = null): InvestigationScene {
    const { scenes } = this.computed
    const scene =
      scenes.get(axes) ?? composeScene(this.document, axes, (pixels) => motionScales(this.document, pixels))
    scenes.set(axes, scene)
    return scene
  }

  /**
   * Returns the motion table of a body in the scene's own unit of length.
   *
   * @throws RangeError for an unknown body
   */
  table(body: string, settings: MotionTableSettings = {}): MotionTable {
    return this.keptTable(keyOf(body, settings), () =>
      tablesOf(this.document, this.scene(settings.axes ?? null), (id) => this.definition(id), settings)(body),
    )
  }

  /** Returns the motion table of a body in the unit in which lengths are shown; see `table`. */
  shownTable(body: string, settings: MotionTableSettings = {}): MotionTable {
    return this.keptTable(`${keyOf(body, settings)} shown`, () =>
      shownTable(this.table(body, settings), this.document.lengthUnit),
    )
  }

  private keptTable(key: string, make: () => MotionTable): MotionTable {
    const { tables } = this.computed
    const table = tables.get(key) ?? make()
    tables.set(key, table)
    return table
  }

  /** Returns a quantity that somebody has defined, or why it can't be derived; null where there is none. */
  definition(id: string): CustomDefinition | null {
    return this.definitions.get(id)
  }

  /** Returns what a quantity says of itself, of a custom one, too; null for one that is gone. */
  quantity(id: string): QuantityInfo | null {
    return quantityInfo(this.document, (custom) => this.definition(custom), id)
  }

  /** Returns everything that a graph shows, in the unit in which lengths are shown; null where its quantity is gone. */
  graph(graph: Graph): GraphDescription | null {
    const { descriptions } = this.computed
    const known = descriptions.get(graph)
    if (known) return known.description
    const { axes, derivation } = graph
    const description = describeGraph(
      this.document,
      graph,
      ({ body, other }) => this.shownTable(body, { axes, derivation, other }),
      (id) => this.quantity(id),
    )
    descriptions.set(graph, { description })
    return description
  }

  /**
   * Returns the fits on a graph, in order; a fit is the same object for as long as nothing of it changes.
   *
   * @param unit whether lengths are in the unit in which they are shown, or in the scene's own
   */
  fits(graphId: string, unit: 'shown' | 'scene' = 'shown'): GraphFit[] {
    return this.computed.fits.on(this.document, graphId, (graph, body) =>
      unit === 'shown' ? this.shownTable(body, graph) : this.table(body, { axes: graph.axes }),
    )
  }

  /** Returns a fit by its id; null for one that is gone. */
  fit(id: string): GraphFit | null {
    const { fits, stretches } = this.document
    const graph = stretches[fits[id]?.stretch]?.graph
    return graph === undefined ? null : (this.fits(graph).find((one) => one.id === id) ?? null)
  }

  /** Returns a calculation by its id; null for one that is gone. */
  calculation(id: string): ShownCalculation | null {
    return this.calculations().find((one) => one.id === id) ?? null
  }

  /** The fits of every stretch, by its number. */
  private readings() {
    const { stretches } = this.document
    const all = this.allFits()
    return Object.entries(stretches)
      .sort(([, a], [, b]) => a.number - b.number)
      .map(([id, { number }]) => ({
        number,
        fits: all.flatMap(({ settings, all: columns }) =>
          settings.stretch === id && columns.length > 0 ? [columns] : [],
        ),
      }))
  }
}
