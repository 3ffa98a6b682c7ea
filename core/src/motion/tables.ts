import type { Investigation } from '../investigation/index.ts'
import { customQuantity } from './custom/index.ts'
import type { InvestigationScene } from './investigationScene.ts'
import { type MotionTable, type TableSettings, tablesOf } from './motionTable.ts'
import { sceneOf } from './sceneOf.ts'

/** Settings of a table, with the axes in which it is measured. */
export interface MotionTableSettings extends TableSettings {
  /** Id of the axes; null: the main ones. */
  axes?: string | null
}

/**
 * Returns the motion table of a body in its investigation's scene; see `tablesOf`.
 *
 * @throws RangeError for an unknown body
 */
export function motionTable(
  investigation: Investigation,
  bodyId: string,
  settings: MotionTableSettings = {},
): MotionTable {
  return motionTablesIn(investigation, sceneOf(investigation, settings.axes ?? null), settings)(bodyId)
}

/** Returns a function that gives the motion table of a body in a scene; see `tablesOf`. */
export function motionTablesIn(
  investigation: Investigation,
  scene: InvestigationScene,
  settings: TableSettings = {},
): (bodyId: string) => MotionTable {
  return tablesOf(investigation, scene, (id) => customQuantity(investigation, id), settings)
}
