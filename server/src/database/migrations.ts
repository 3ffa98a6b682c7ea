import { readInvestigation, summarise } from '@apokinema/core/investigation'
import type { Knex } from 'knex'
import { LOCAL_PERSON } from '../people.ts'

/** Migrations by name, in order. One that has landed is never changed. */
export const MIGRATIONS: Record<string, Knex.Migration> = {
  '001-first-tables': {
    async up(database) {
      await database.schema.createTable('people', (table) => {
        table.uuid('id').primary()
        table.text('name').notNullable()
      })
      await database('people').insert(LOCAL_PERSON)
      await database.schema.createTable('investigations', (table) => {
        table.uuid('id').primary()
        table.uuid('owner_id').notNullable().references('people.id')
        table.integer('version').notNullable()
        table.jsonb('document').notNullable()
        table.timestamp('created_at').notNullable().defaultTo(database.fn.now())
        table.timestamp('updated_at').notNullable().defaultTo(database.fn.now())
        table.timestamp('deleted_at')
        table.index(['owner_id', 'updated_at'])
      })
      await database.schema.createTable('revisions', (table) => {
        table.uuid('investigation_id').notNullable().references('investigations.id').onDelete('CASCADE')
        table.integer('version').notNullable()
        table.uuid('key').notNullable()
        table.uuid('author_id').notNullable().references('people.id')
        table.jsonb('patch').notNullable()
        table.timestamp('created_at').notNullable().defaultTo(database.fn.now())
        table.primary(['investigation_id', 'version'])
        table.unique(['investigation_id', 'key'])
      })
      await database.schema.createTable('files', (table) => {
        table.text('sha256').primary()
        table.bigInteger('size').notNullable()
        table.text('type').notNullable()
        table.timestamp('created_at').notNullable().defaultTo(database.fn.now())
      })
      await database.schema.createTable('footage', (table) => {
        table.uuid('investigation_id').notNullable().references('investigations.id').onDelete('CASCADE')
        table.uuid('id').notNullable()
        table.text('sha256').notNullable().references('files.sha256')
        table.boolean('has_poster').notNullable().defaultTo(false)
        table.primary(['investigation_id', 'id'])
        table.index(['sha256'])
      })
      await database.schema.createTable('settings', (table) => {
        table.text('name').primary()
        table.text('value').notNullable()
      })
    },
    async down(database) {
      for (const name of ['settings', 'footage', 'files', 'revisions', 'investigations', 'people'])
        await database.schema.dropTable(name)
    },
  },
  '002-conversions': {
    async up(database) {
      await database.schema.alterTable('footage', (table) => {
        table.text('original_sha256').references('files.sha256')
        table.index(['original_sha256'])
      })
      await database.schema.createTable('conversions', (table) => {
        // The converted footage has the same id.
        table.uuid('id').primary()
        table.uuid('investigation_id').notNullable().references('investigations.id').onDelete('CASCADE')
        table.text('source_sha256').notNullable().references('files.sha256')
        table.text('result_sha256').references('files.sha256')
        table.text('name').notNullable()
        table.text('kind').notNullable()
        table.text('rate')
        table.text('state').notNullable()
        table.float('progress').notNullable().defaultTo(0)
        table.text('problem')
        table.text('technical')
        table.timestamp('created_at').notNullable().defaultTo(database.fn.now())
        table.index(['investigation_id', 'created_at'])
        table.index(['source_sha256'])
        table.index(['state'])
      })
    },
    async down(database) {
      await database.schema.dropTable('conversions')
      await database.schema.alterTable('footage', (table) => {
        table.dropColumn('original_sha256')
      })
    },
  },
  '003-snapshots': {
    async up(database) {
      await database.schema.createTable('snapshots', (table) => {
        table.uuid('investigation_id').notNullable().references('investigations.id').onDelete('CASCADE')
        table.integer('version').notNullable()
        table.jsonb('document').notNullable()
        table.timestamp('created_at').notNullable().defaultTo(database.fn.now())
        table.primary(['investigation_id', 'version'])
      })
      await database.raw(
        'insert into snapshots (investigation_id, version, document) select id, version, document from investigations',
      )
      await database.schema.alterTable('investigations', (table) => {
        table.text('title')
        // Null if the document can't be read.
        table.jsonb('summary')
        table.uuid('footage_id')
      })
      // One at a time: together they may exceed the memory.
      for (const { id } of await database('investigations').select('id')) {
        const { document } = await database('investigations').where({ id }).first('document')
        await database('investigations').where({ id }).update(listed(document))
      }
      // With the precision that the page sees, which requests the rows after it.
      await database.raw("update investigations set updated_at = date_trunc('milliseconds', updated_at)")
      await database.schema.alterTable('investigations', (table) => {
        table.dropNullable('title')
        table.dropColumn('document')
        table.index(['owner_id', 'updated_at', 'id'])
      })
    },
    async down() {
      throw new Error('Documents are not put back into one column: restore a backup from before instead.')
    },
  },
  '004-servers': {
    async up(database) {
      await database.schema.createTable('servers', (table) => {
        table.uuid('id').primary()
        table.timestamp('seen_at').notNullable().defaultTo(database.fn.now())
      })
      await database.schema.alterTable('conversions', (table) => {
        // The server that runs it; null if that server has ended.
        table.uuid('server_id').references('servers.id').onDelete('SET NULL')
        // Order of the requests, independent of the clock.
        table.bigInteger('number')
        table.index(['server_id'])
      })
      await database.raw(`
        update conversions set number = placed.place
        from (select id, row_number() over (order by created_at, id) as place from conversions) placed
        where placed.id = conversions.id`)
      await database.raw(`
        alter table conversions
          alter column number set not null,
          alter column number add generated by default as identity,
          add unique (number)`)
      await database.raw(`
        select setval(pg_get_serial_sequence('conversions', 'number'), max(number))
        from conversions having count(*) > 0`)
      await database.schema.alterTable('files', (table) => {
        // Time since which nothing refers to it.
        table.timestamp('unused_since')
      })
    },
    async down(database) {
      await database.schema.alterTable('files', (table) => {
        table.dropColumn('unused_since')
      })
      await database.schema.alterTable('conversions', (table) => {
        table.dropColumns('server_id', 'number')
      })
      await database.schema.dropTable('servers')
    },
  },
  '005-report-templates': {
    async up(database) {
      await database.schema.createTable('report_templates', (table) => {
        table.uuid('id').primary()
        table.uuid('owner_id').notNullable().references('people.id')
        table.text('name').notNullable()
        table.jsonb('template').notNullable()
        table.timestamp('created_at').notNullable().defaultTo(database.fn.now())
        table.index(['owner_id', 'created_at'])
      })
    },
    async down(database) {
      await database.schema.dropTable('report_templates')
    },
  },
  '006-series': {
    async up(database) {
      await database.schema.createTable('series', (table) => {
        table.uuid('id').primary()
        table.uuid('owner_id').notNullable().references('people.id')
        table.integer('version').notNullable()
        table.text('title').notNullable()
        table.jsonb('document').notNullable()
        table.timestamp('updated_at').notNullable().defaultTo(database.fn.now())
        table.timestamp('deleted_at')
        table.index(['owner_id', 'updated_at'])
      })
      await database.schema.createTable('series_revisions', (table) => {
        table.uuid('series_id').notNullable().references('series.id').onDelete('CASCADE')
        table.integer('version').notNullable()
        table.uuid('key').notNullable()
        table.uuid('author_id').notNullable().references('people.id')
        table.jsonb('patch').notNullable()
        table.timestamp('created_at').notNullable().defaultTo(database.fn.now())
        table.primary(['series_id', 'version'])
        table.unique(['series_id', 'key'])
      })
      await database.schema.createTable('series_trials', (table) => {
        // An investigation belongs to one series at most.
        table.uuid('investigation_id').primary().references('investigations.id').onDelete('CASCADE')
        table.uuid('series_id').notNullable().references('series.id').onDelete('CASCADE')
        table.integer('place').notNullable()
        table.index(['series_id'])
      })
    },
    async down(database) {
      for (const name of ['series_trials', 'series_revisions', 'series'])
        await database.schema.dropTable(name)
    },
  },
}

/** Returns the list's summary of a stored document. */
function listed(document: { title?: unknown }) {
  try {
    const { title, footage, ...rest } = readInvestigation(document)
    return { title, footage_id: footage?.id ?? null, summary: summarise({ title, footage, ...rest }) }
  } catch {
    return { title: typeof document?.title === 'string' ? document.title : 'Investigation' }
  }
}
