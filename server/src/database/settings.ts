import type { Knex } from 'knex'

const DEMO_LOADED = 'demo-loaded'

/** Returns true if the demo data were ever added to this database. */
export async function demoIsLoaded(database: Knex): Promise<boolean> {
  return (await database('settings').where({ name: DEMO_LOADED }).first('name')) !== undefined
}

/** Records that the demo data were added; deleted ones do not come back. */
export async function noteDemoLoaded(database: Knex): Promise<void> {
  await database('settings').insert({ name: DEMO_LOADED, value: new Date().toISOString() })
}
