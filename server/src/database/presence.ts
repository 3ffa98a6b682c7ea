import { randomUUID } from 'node:crypto'
import type { Knex } from 'knex'

/** Seconds without a sign of life after which a server counts as ended. */
const LEASE = 20

/**
 * This server among those that work on one database. Each signs in with an id of its own and gives signs of life; one
 * that gives none for LEASE seconds is struck off by the others, and with its row goes its hold on what it was at.
 * Times are the database's, so that the servers' clocks do not matter.
 */
export class Presence {
  readonly id: string = randomUUID()

  constructor(private readonly database: Knex) {}

  /**
   * Signs in, or gives a sign of life, and strikes off those that have ended. A server that was struck off itself, as
   * after a long pause of its machine, is signed in again; what it was at may be in other hands by then.
   */
  async beat(): Promise<void> {
    const servers = () => this.database('servers')
    const isSignedIn = await servers().where({ id: this.id }).update({ seen_at: this.database.fn.now() })
    if (!isSignedIn) await servers().insert({ id: this.id })
    await servers().whereRaw("seen_at < now() - ? * interval '1 second'", [LEASE]).delete()
  }

  /** Ids of the servers that are signed in. */
  async present(): Promise<string[]> {
    return this.database('servers').pluck('id')
  }

  async signOff(): Promise<void> {
    await this.database('servers').where({ id: this.id }).delete()
  }
}
