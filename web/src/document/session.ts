import type { EditAnswer } from '@apokinema/core/api'
import {
  applyPatch,
  compactPatch,
  edit,
  type Investigation,
  type Mutator,
  type Patch,
  PatchError,
} from '@apokinema/core/investigation'
import { v4 as uuid } from 'uuid'
import { createStore, type StoreApi } from 'zustand/vanilla'
import { AwayError } from '../api/client.ts'
import { deliveryFailure } from './deliveryFailure.ts'
import { lastTogether, latestSteps } from './editHistory.ts'
import type { LocalRecord, PendingEdit, Step } from './localRecord.ts'
import { rebased } from './rebase.ts'
import { SerialWriter } from './serialWriter.ts'
import type { Reach, SessionState } from './sessionState.ts'

/** Number of saved edits after which the whole document is written to the local store again. */
const MOST_SINCE = 100
/** Delays between tries while the server is away, in milliseconds. */
const RETRY = [500, 1000, 2000, 4000, 8000, 15_000, 30_000]
/** Message for a deleted investigation. */
const GONE = 'This was deleted elsewhere. Bring it back from the list of what is deleted, then reload.'
/** Failed tries of one edit after which it is set aside. */
const MOST_FAULTS = 3

/**
 * An open document. Edits are applied at once, stored in the browser, and sent to the server one after the other, each
 * under its own key, until it acknowledges them. Undo is an edit, too.
 */
export class Session<D extends object = Investigation> {
  readonly store: StoreApi<SessionState<D>>
  private sending: Promise<void> | null = null
  private readonly writer = new SerialWriter(() => this.writeRecord())
  private wake: (() => void) | null = null
  private closed = false

  constructor(
    readonly id: string,
    private readonly reach: Reach<D>,
    /** The server's last known state. */
    private base: { version: number; document: D },
    private pending: PendingEdit[],
    state: Partial<SessionState<D>>,
    /** The server's state as last written to the local store in full, and the patches saved since. */
    private shelved: { document: D; since: Patch[] } = { document: base.document, since: [] },
  ) {
    this.store = createStore<SessionState<D>>(() => ({
      document: base.document,
      preview: null,
      save: 'saved',
      isWriting: false,
      savedAt: null,
      undo: [],
      redo: [],
      aside: [],
      failure: null,
      message: null,
      ...state,
    }))
  }

  /** Notes whether text is being written that is not an edit yet. Everybody who looks at the session is told of a change. */
  noteWriting(isWriting: boolean): void {
    if (this.store.getState().isWriting !== isWriting) this.store.setState({ isWriting })
  }

  /**
   * Makes an edit: at once in the page, then in the local store and on the server. Does nothing if nothing changes.
   *
   * @param together name of a group: consecutive edits of one group are undone together
   */
  edit(label: string, mutator: Mutator<D>, together?: string): void {
    const { document, preview, undo } = this.store.getState()
    const edited = edit(document, mutator)
    if (edited.patch.length === 0) {
      if (preview) this.store.setState({ preview: null })
      return
    }
    const step: Step = { label, patch: edited.patch, inverse: edited.inverse, ...(together && { together }) }
    this.take(label, edited.document, edited.patch, { undo: latestSteps([...undo, step]), redo: [] })
  }

  /** Previews an edit while a drag goes on; null ends the preview. */
  preview(mutator: Mutator<D> | null): void {
    const { document } = this.store.getState()
    this.store.setState({ preview: mutator ? edit(document, mutator).document : null })
  }

  /** Undoes the last step, with all steps of its group. */
  undo(): void {
    const { undo, redo } = this.state
    const steps = lastTogether(undo).reverse()
    this.step(steps, 'inverse', { undo: undo.slice(0, -steps.length), redo: [...redo, ...steps] })
  }

  /** Redoes the last undone step, with all steps of its group. */
  redo(): void {
    const { undo, redo } = this.state
    const steps = lastTogether(redo).reverse()
    this.step(steps, 'patch', { undo: [...undo, ...steps], redo: redo.slice(0, -steps.length) })
  }

  /** @param steps in the order in which they are applied; each changes something */
  private step(
    steps: Step[],
    way: 'patch' | 'inverse',
    history: Pick<SessionState<D>, 'undo' | 'redo'>,
  ): void {
    if (steps.length === 0) return
    const [{ label }] = steps
    const patch = steps.flatMap((step) => step[way])
    try {
      const document = applyPatch(this.state.document, patch)
      this.take(label, document, patch, history)
    } catch (error) {
      if (!(error instanceof PatchError)) throw error
      // Earlier steps may still apply, so this one is removed.
      const { undo, redo } = this.state
      this.store.setState({
        undo: undo.filter((one) => !steps.includes(one)),
        redo: redo.filter((one) => !steps.includes(one)),
        message: `“${label}” does not fit any more: the same thing was changed elsewhere.`,
      })
      this.keep()
    }
  }

  /** Shows what an edit led to, and sends it. Everybody who looks at the session is told once. */
  private take(
    label: string,
    document: D,
    patch: Patch,
    history: Partial<Pick<SessionState<D>, 'undo' | 'redo'>> = {},
  ): void {
    this.pending.push({ key: uuid(), label, patch: compactPatch(patch, document) })
    const { save } = this.state
    this.store.setState({
      ...history,
      document,
      preview: null,
      save: save === 'saved' ? 'saving' : save,
    })
    this.keep()
    this.send()
  }

  private get state(): SessionState<D> {
    return this.store.getState()
  }

  /** Schedules a write to the local store. */
  private keep(): void {
    this.writer.request()
  }

  private async writeRecord(): Promise<void> {
    const { undo, redo, aside } = this.state
    // The whole document is written only from time to time: that takes long for a long run.
    if (this.shelved.since.length > MOST_SINCE) this.shelved = { document: this.base.document, since: [] }
    const record: LocalRecord<D> = {
      version: this.base.version,
      ...this.shelved,
      since: [...this.shelved.since],
      pending: [...this.pending],
      aside,
      undo,
      redo,
    }
    await this.reach.localStore.write(this.id, record).catch(() => {
      this.store.setState({
        message: 'This browser keeps nothing on its disk: what is not saved is lost when the page is closed.',
      })
    })
  }

  /** Applies this browser's unsent edits to the server's state, and sends them. */
  resume(): void {
    this.lay(this.base.document)
    this.send()
  }

  /** Sends pending edits one after the other until none is left. */
  private send(): void {
    this.sending ??= this.deliver().finally(() => {
      this.sending = null
      if (this.pending.length > 0 && !this.closed && !['conflict', 'gone'].includes(this.state.save))
        this.send()
    })
  }

  private async deliver(): Promise<void> {
    /** Consecutive failed tries, and how many of them failed with an error at the first pending edit. */
    let [tries, faults] = [0, 0]
    while (this.pending.length > 0 && !this.closed) {
      const first = this.pending[0]
      try {
        const answer = await this.reach.client.edit(this.id, {
          key: first.key,
          patch: first.patch,
          base: this.base.version,
        })
        await this.acknowledge(first, answer)
        ;[tries, faults] = [0, 0]
        continue
      } catch (error) {
        const failure = deliveryFailure(error)
        if (failure === 'conflict' || failure === 'gone') {
          this.store.setState({
            save: failure,
            message: failure === 'gone' ? GONE : (error as Error).message,
          })
          return
        }
        if (failure === 'fault') faults++
        if (failure === 'refused' || faults >= MOST_FAULTS) {
          this.setAside(first, (error as Error).message)
          ;[tries, faults] = [0, 0]
          continue
        }
        this.store.setState({
          save: failure === 'unreachable' ? 'offline' : 'held',
          failure: (error as Error).message,
        })
      }
      await this.pause(RETRY[Math.min(tries++, RETRY.length - 1)])
    }
  }

  private async pause(milliseconds: number): Promise<void> {
    await Promise.race([
      this.reach.wait(milliseconds),
      new Promise<void>((resolve) => {
        this.wake = resolve
      }),
    ])
  }

  /** Handles the server's answer to the first pending edit. */
  private async acknowledge(first: PendingEdit, answer: EditAnswer): Promise<void> {
    let isNews = answer.since.length > 0
    try {
      const patches = [...answer.since, first.patch]
      const document = patches.reduce(applyPatch<D>, this.base.document)
      this.base = { version: answer.version, document }
      this.shelved.since.push(...patches)
    } catch {
      // The browser's state differs from the server's: it is requested, and already contains the edit.
      const { version, document } = await this.reach.client.open(this.id)
      this.rebase(version, document)
      isNews = true
    }
    this.pending.shift()
    this.saved(answer)
    if (isNews) this.lay(this.base.document)
    else this.keep()
  }

  /** Replaces the known state of the server. */
  private rebase(version: number, document: D): void {
    this.base = { version, document }
    this.shelved = { document, since: [] }
  }

  private saved({ updatedAt }: EditAnswer): void {
    this.store.setState({
      savedAt: new Date(updatedAt),
      save: this.pending.length > 0 ? 'saving' : 'saved',
      failure: null,
    })
  }

  /** Rebases pending edits on a newer state; those that no longer apply are set aside. */
  private lay(base: D): void {
    const { document, misfits } = rebased(base, this.pending)
    this.pending = this.pending.filter((one) => !misfits.includes(one))
    const why = 'The same thing was changed elsewhere, so it does not fit any more.'
    this.store.setState(({ aside, save }) => ({
      document,
      aside: [...aside, ...misfits.map((one) => ({ ...one, why }))],
      save: this.pending.length === 0 && save === 'saving' ? 'saved' : save,
    }))
    this.keep()
  }

  /** Sets the first pending edit aside: the others are applied without it as far as they can be. */
  private setAside(first: PendingEdit, why: string): void {
    this.pending = this.pending.filter((one) => one !== first)
    this.store.setState(({ aside }) => ({
      aside: [...aside, { ...first, why }],
      save: this.pending.length > 0 ? 'saving' : 'saved',
      failure: null,
    }))
    this.lay(this.base.document)
    // The server may have applied it all the same, if an earlier answer was lost.
    if (this.pending.length === 0) void this.refresh().catch(() => {})
  }

  /** Retries an edit that was set aside, under a new key; shows a message if it no longer applies. */
  tryAgain(key: string): void {
    const edit = this.state.aside.find((one) => one.key === key)
    if (!edit) return
    try {
      const document = applyPatch(this.state.document, edit.patch)
      this.store.setState(({ aside }) => ({ aside: aside.filter((one) => one !== edit) }))
      this.take(edit.label ?? '', document, edit.patch)
    } catch (error) {
      if (!(error instanceof PatchError)) throw error
      this.store.setState({ message: 'It still does not fit: the same thing was changed elsewhere.' })
    }
  }

  /** Discards all edits that were set aside. */
  letGo(): void {
    this.store.setState({ aside: [] })
    this.keep()
  }

  /** Returns the current document with all edits of this browser. */
  get document(): D {
    return this.store.getState().document
  }

  /** Retries now, for when the connection may be back. */
  retryNow(): void {
    this.wake?.()
  }

  /** Ends a conflict: with `mine`, this browser's edits are applied to the newest state, otherwise they are discarded. */
  async resolveConflict(mine: boolean): Promise<void> {
    const { version, document } = await this.reach.client.open(this.id)
    this.rebase(version, document)
    if (!mine) this.pending = []
    this.store.setState({
      message: null,
      failure: null,
      save: this.pending.length > 0 ? 'saving' : 'saved',
      ...(mine ? {} : { undo: [], redo: [] }),
    })
    this.lay(document)
    this.send()
  }

  /** Takes over changes of others if no edit of this browser is pending. */
  async refresh(): Promise<void> {
    if (this.pending.length > 0) return
    try {
      const { version, document, updatedAt } = await this.reach.client.open(this.id)
      if (this.pending.length > 0 || version <= this.base.version) return
      this.rebase(version, document)
      this.store.setState({ document, savedAt: new Date(updatedAt) })
      this.keep()
    } catch (error) {
      if (!(error instanceof AwayError)) throw error
    }
  }

  dismissMessage(): void {
    this.store.setState({ message: null })
  }

  /** Resolves once nothing is being sent: all is saved, or the person has to decide. */
  delivered(): Promise<void> {
    return this.sending ?? Promise.resolve()
  }

  /** Stops sending; pending edits remain in the local store. */
  close(): void {
    this.closed = true
    this.wake?.()
  }
}
