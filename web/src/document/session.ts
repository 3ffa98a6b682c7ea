import {
  applyPatch,
  edit,
  type Investigation,
  type Patch,
  PatchError,
  type Recipe,
  readInvestigation,
} from '@apokinema/core/investigation'
import { v4 as uuid } from 'uuid'
import { createStore, type StoreApi } from 'zustand/vanilla'
import { AwayError, type Client, RefusedError } from '../api/client.ts'
import type { PendingEdit, Shelf, ShelfRecord, Step } from './shelf.ts'

/** Steps that can be undone. */
const MOST_STEPS = 400
/** Waits between tries while the server is away, in milliseconds. */
const RETRY = [500, 1000, 2000, 4000, 8000]

export type SaveState = 'saved' | 'saving' | 'offline' | 'conflict' | 'gone'

export interface SessionState {
  /** The document as it stands in this browser. */
  document: Investigation
  /** What a drag would make of it, while one goes on. */
  preview: Investigation | null
  save: SaveState
  savedAt: Date | null
  undo: Step[]
  redo: Step[]
  /** A sentence for the person: a refused change, a conflict. */
  message: string | null
}

/** What a session reaches out to; replaced in tests. */
export interface Reach {
  client: Pick<Client, 'open' | 'edit'>
  shelf: Shelf
  wait: (milliseconds: number) => Promise<void>
}

/**
 * One investigation at work: edits are applied at once, kept in the browser, and sent to the server one
 * after the other, each under its own key, until it has acknowledged them. Undo is an edit, too.
 */
export class Session {
  readonly store: StoreApi<SessionState>
  private sending: Promise<void> | null = null
  private writing: Promise<void> | null = null
  private writeAgain = false
  private wake: (() => void) | null = null
  private closed = false

  private constructor(
    readonly id: string,
    private readonly reach: Reach,
    /** The server's last known state. */
    private base: { version: number; document: Investigation },
    private pending: PendingEdit[],
    state: Partial<SessionState>,
  ) {
    this.store = createStore<SessionState>(() => ({
      document: base.document,
      preview: null,
      save: 'saved',
      savedAt: null,
      undo: [],
      redo: [],
      message: null,
      ...state,
    }))
  }

  /**
   * Opens an investigation: the server's state, with what this browser still has to send on top. Without
   * the server, the state that the browser kept. Rejects where neither has it.
   */
  static async open(id: string, reach: Reach): Promise<Session> {
    const opening = reach.client.open(id)
    opening.catch(() => {})
    const kept = await reach.shelf.read(id).catch(() => undefined)
    let fetched: Awaited<ReturnType<Client['open']>> | null = null
    try {
      fetched = await opening
    } catch (error) {
      if (!(error instanceof AwayError) || !kept) throw error
    }
    const history = { undo: kept?.undo ?? [], redo: kept?.redo ?? [] }
    if (kept && (kept.pending.length > 0 || !fetched)) {
      const session = new Session(
        id,
        reach,
        { version: kept.version, document: readInvestigation(kept.document) },
        kept.pending,
        history,
      )
      session.store.setState({
        document: replay(readInvestigation(kept.document), kept.pending),
        save: fetched ? 'saving' : 'offline',
      })
      session.send()
      return session
    }
    const { version, document, updatedAt } = fetched!
    return new Session(id, reach, { version, document }, [], { ...history, savedAt: new Date(updatedAt) })
  }

  /**
   * Makes an edit: at once here, then on the shelf and on the server. One that changes nothing is none.
   *
   * @param together edits in a row of the same name here are undone in one step
   */
  edit(label: string, recipe: Recipe, together?: string): void {
    const { document, undo } = this.store.getState()
    const edited = edit(document, recipe)
    this.store.setState({ preview: null })
    if (edited.patch.length === 0) return
    const step: Step = { label, patch: edited.patch, inverse: edited.inverse, ...(together && { together }) }
    const last = undo.at(-1)
    const steps =
      last && together && last.together === together
        ? [...undo.slice(0, -1), joined(last, step)]
        : [...undo, step].slice(-MOST_STEPS)
    this.store.setState({ undo: steps, redo: [] })
    this.take(edited.document, edited.patch)
  }

  /** Shows what an edit would do, while a drag goes on; null ends it. */
  preview(recipe: Recipe | null): void {
    const { document } = this.store.getState()
    this.store.setState({ preview: recipe ? edit(document, recipe).document : null })
  }

  /** Takes the last step back. */
  undo(): void {
    const { undo, redo } = this.state
    const step = undo.at(-1)
    if (step) this.step(step.inverse, { undo: undo.slice(0, -1), redo: [...redo, step] })
  }

  /** Makes the last step that was taken back again. */
  redo(): void {
    const { undo, redo } = this.state
    const step = redo.at(-1)
    if (step) this.step(step.patch, { undo: [...undo, step], redo: redo.slice(0, -1) })
  }

  private step(patch: Patch, history: Pick<SessionState, 'undo' | 'redo'>): void {
    try {
      const document = applyPatch(this.state.document, patch)
      this.store.setState(history)
      this.take(document, patch)
    } catch (error) {
      if (!(error instanceof PatchError)) throw error
      this.store.setState({
        message: 'This step does not fit any more: the same thing was changed elsewhere.',
      })
    }
  }

  private take(document: Investigation, patch: Patch): void {
    this.pending.push({ key: uuid(), patch })
    this.store.setState({ document, save: this.state.save === 'offline' ? 'offline' : 'saving' })
    this.keep()
    this.send()
  }

  private get state(): SessionState {
    return this.store.getState()
  }

  /** Writes to the shelf; calls during a write are answered by one more write. */
  private keep(): void {
    if (this.writing) {
      this.writeAgain = true
      return
    }
    const { undo, redo } = this.state
    const record: ShelfRecord = { ...this.base, pending: [...this.pending], undo, redo }
    this.writing = this.reach.shelf
      .write(this.id, record)
      .catch(() => {
        this.store.setState({
          message:
            'This browser keeps nothing on its disk: what is not saved is lost when the page is closed.',
        })
      })
      .then(() => {
        this.writing = null
        if (this.writeAgain) {
          this.writeAgain = false
          this.keep()
        }
      })
  }

  /** Sends what is pending, one edit after the other, until nothing is left. */
  private send(): void {
    this.sending ??= this.deliver().finally(() => {
      this.sending = null
      if (this.pending.length > 0 && !this.closed && !['conflict', 'gone'].includes(this.state.save))
        this.send()
    })
  }

  private async deliver(): Promise<void> {
    let tries = 0
    while (this.pending.length > 0 && !this.closed) {
      const first = this.pending[0]
      try {
        const answer = await this.reach.client.edit(this.id, { ...first, base: this.base.version })
        tries = 0
        const meanwhile = [...answer.since, first.patch].reduce(applyPatch, this.base.document)
        this.base = { version: answer.version, document: meanwhile }
        this.pending.shift()
        if (answer.since.length > 0) this.store.setState({ document: replay(meanwhile, this.pending) })
        this.store.setState({
          savedAt: new Date(answer.updatedAt),
          save: this.pending.length > 0 ? 'saving' : 'saved',
        })
        this.keep()
      } catch (error) {
        if (error instanceof RefusedError) {
          await this.refused(error)
          if (this.state.save === 'conflict' || this.state.save === 'gone') return
        } else {
          this.store.setState({ save: 'offline' })
          const pause = RETRY[Math.min(tries++, RETRY.length - 1)]
          await Promise.race([
            this.reach.wait(pause),
            new Promise<void>((resolve) => {
              this.wake = resolve
            }),
          ])
        }
      }
    }
  }

  private async refused(error: RefusedError): Promise<void> {
    // Also a server that was set back to an older state is a matter for the person: nothing is dropped.
    if (error.status === 409) this.store.setState({ save: 'conflict', message: error.message })
    else if (error.status === 404)
      this.store.setState({
        save: 'gone',
        message:
          'This investigation was deleted elsewhere. Bring it back from the list of deleted ones, then reload.',
      })
    else {
      // The one edit is taken back; all others stay.
      this.pending.shift()
      this.store.setState({
        document: replay(this.base.document, this.pending),
        undo: [],
        redo: [],
        message: error.message,
        save: this.pending.length > 0 ? 'saving' : 'saved',
      })
      this.keep()
    }
  }

  /** Tries again now, for when the connection may be back. */
  nudge(): void {
    this.wake?.()
  }

  /** Ends a conflict: with `mine` this browser's changes are laid over the newest state, otherwise they are dropped. */
  async settle(mine: boolean): Promise<void> {
    const { version, document } = await this.reach.client.open(this.id)
    this.base = { version, document }
    if (!mine) this.pending = []
    this.store.setState({
      document: replay(document, this.pending),
      message: null,
      save: 'saving',
      ...(mine ? {} : { undo: [], redo: [], save: 'saved' }),
    })
    this.keep()
    this.send()
  }

  /** Takes in what others changed, where nothing of one's own waits. */
  async refresh(): Promise<void> {
    if (this.pending.length > 0) return
    try {
      const { version, document, updatedAt } = await this.reach.client.open(this.id)
      if (this.pending.length > 0 || version <= this.base.version) return
      this.base = { version, document }
      this.store.setState({ document, savedAt: new Date(updatedAt) })
      this.keep()
    } catch (error) {
      if (!(error instanceof AwayError)) throw error
    }
  }

  dismissMessage(): void {
    this.store.setState({ message: null })
  }

  /** Stops sending; what is pending stays on the shelf. */
  close(): void {
    this.closed = true
    this.wake?.()
  }
}

/** Two steps as one. */
function joined(first: Step, second: Step): Step {
  return {
    ...second,
    patch: [...first.patch, ...second.patch],
    inverse: [...second.inverse, ...first.inverse],
  }
}

/** A document with patches on top; one that does not fit any more is passed over. */
function replay(document: Investigation, pending: PendingEdit[]): Investigation {
  return pending.reduce((at, { patch }) => {
    try {
      return applyPatch(at, patch)
    } catch (error) {
      if (error instanceof PatchError) return at
      throw error
    }
  }, document)
}
