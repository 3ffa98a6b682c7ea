import { edits } from '@apokinema/core/investigation'
import type { ProposedBody } from '@apokinema/core/proposals'
import { v4 as uuid } from 'uuid'
import { notify } from '../../common/messages.tsx'
import type { Session } from '../../document/session.ts'
import { usedFramesSeen } from '../following/followProposed.ts'
import { addBody } from '../marking.ts'
import { workbench } from '../workbenchStore.ts'

/** Refuses a proposed body: it is not proposed again. */
export function refuseBody(session: Session, { best }: ProposedBody): void {
  const { frame, x, y } = best
  const id = uuid()
  session.edit('refuse what moves', edits.refuse(id, { kind: 'body', frame, x, y }))
  // Much else may have been done until it is clicked.
  notify('It is not proposed again.', {
    label: 'Propose it again',
    onClick: () => session.edit('propose what moves again', edits.takeBackRefusal(id)),
  })
}

/** Makes a proposed body one that is marked by hand, from the first frame in which it was seen. */
export function markProposed(session: Session, proposed: ProposedBody): void {
  const [frame] = usedFramesSeen(session, proposed)
  if (frame === undefined) return
  const body = addBody(session)
  workbench.goTo(frame)
  workbench.enter({ kind: 'mark', body })
}
