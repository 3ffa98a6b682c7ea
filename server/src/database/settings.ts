import type { Knex } from 'knex'

const DEMO_LOADED = 'demo-loaded'

/** Returns true if the demo data were ever put into this database. */
export async function demoIsLoaded(database: Knex): Promise<boolean> {
  return (await database('settings').where({ name: DEMO_LOADED }).first('name')) !== undefined
}

/** Notes that the demo data are in; deleted ones do not come back. */
export async function noteDemoLoaded(database: Knex): Promise<void> {
  await database('settings').insert({ name: DEMO_LOADED, value: new Date().toISOString() })
}
