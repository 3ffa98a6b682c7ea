import { randomUUID } from 'node:crypto'
import type { Knex } from 'knex'

/** Seconds without a heartbeat after which a server is considered dead. */
const LEASE = 20

/**
 * Registry of the server processes that share one database. Each process has a row that it refreshes with heartbeats. A
 * row without a heartbeat for LEASE seconds is deleted by the other processes; foreign keys then release the leases that
 * the dead process held. Uses the database's clock, so the clocks of the machines need not agree.
 */
export class ServerRegistry {
  readonly id: string = randomUUID()

  constructor(private readonly database: Knex) {}

  /**
   * Inserts or refreshes the row of this process and deletes the rows of dead ones. A process whose own row was deleted,
   * for example after its machine was suspended, gets a new row; its leases may belong to others by then.
   */
  async heartbeat(): Promise<void> {
    const servers = () => this.database('servers')
    const isSignedIn = await servers().where({ id: this.id }).update({ seen_at: this.database.fn.now() })
    if (!isSignedIn) await servers().insert({ id: this.id })
    await servers().whereRaw("seen_at < now() - ? * interval '1 second'", [LEASE]).delete()
  }

  /** Returns the ids of all live processes. */
  async present(): Promise<string[]> {
    return this.database('servers').pluck('id')
  }

  async signOff(): Promise<void> {
    await this.database('servers').where({ id: this.id }).delete()
  }
}
