import type { EditAnswer, EditRequest, OpenedInvestigation } from '@apokinema/core/api'
import { applyPatch, type Investigation, newInvestigation, type Patch } from '@apokinema/core/investigation'

const UPDATED_AT = '2026-06-01T10:00:00Z'

/** A server for tests, which keeps the promises of the real one: an edit is applied once, however often it arrives. */
export class ServerInMemory {
  document: Investigation = newInvestigation('Net float')
  version = 1
  readonly patches: Patch[] = []
  private readonly applied = new Map<string, number>()

  open(id: string): OpenedInvestigation {
    const { version, document } = this
    return { id, version, document, footageStored: false, updatedAt: UPDATED_AT }
  }

  edit({ key, base, patch }: EditRequest): EditAnswer {
    const known = this.applied.get(key)
    const since = this.patches.slice(base - 1, known ? known - 2 : this.version - 1)
    if (!known) {
      this.apply(patch)
      this.applied.set(key, this.version)
    }
    return { version: known ?? this.version, since, updatedAt: UPDATED_AT }
  }

  /** Changes the document as somebody else's edit does. */
  apply(patch: Patch): void {
    this.document = applyPatch(this.document, patch)
    this.patches.push(patch)
    this.version++
  }
}
