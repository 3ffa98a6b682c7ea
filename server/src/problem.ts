import type { ProblemAnswer } from '@apokinema/core/api'

/** An error for the user, sent as `application/problem+json` (RFC 9457). */
export class Problem extends Error {
  /**
   * @param code short name for programs
   * @param detail what happened, what is safe and what to do next, for people
   */
  constructor(
    readonly status: number,
    readonly code: string,
    readonly detail: string,
    readonly extra: Record<string, unknown> = {},
  ) {
    super(detail)
  }

  answer(): ProblemAnswer & Record<string, unknown> {
    return {
      ...this.extra,
      type: `urn:apokinema:${this.code}`,
      title: this.code.replaceAll('-', ' '),
      status: this.status,
      code: this.code,
      detail: this.detail,
    }
  }
}

/** An edit that can't be applied, or a body that is none. */
export const editRefused = (why: string) =>
  new Problem(422, 'edit-refused', `This change was refused, nothing was altered: ${why}`)

export const notFound = () =>
  new Problem(404, 'not-found', 'There is no such investigation here. It may have been deleted for good.')
