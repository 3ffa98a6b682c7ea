import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { goOnByColour, pauseFollowing, reply } from '../following/followActions.ts'
import { follow } from '../following/followRun.ts'
import { useFollowing } from '../following/followStore.ts'
import { defaultWayOf, followedFrom } from '../following/followTargets.ts'
import { BandButton } from './BandButton.tsx'

/** What can be done at the present state of following. */
export function FollowButtons({ body }: { body: string }) {
  const { phase, chosen, news } = useFollowing()
  if (phase === 'waiting') return null
  if (phase === 'outlining') return chosen ? null : <WayButtons body={body} isReady={false} />
  if (phase === 'ready') return <WayButtons body={body} isReady />
  if (phase === 'asking' && news?.question) return <AnswerButtons body={body} />
  return (
    <BandButton
      label={phase === 'paused' ? 'Go on · Space' : 'Hold · Space'}
      onClick={() => pauseFollowing(phase !== 'paused')}
    />
  )
}

/** Ways in which a body can be followed; only the default one while its outline is not there yet. */
function WayButtons({ body, isReady }: { body: string; isReady: boolean }) {
  const session = useSession()
  const investigation = useInvestigation()
  const { start, together } = useFollowing()
  const count = followedFrom(investigation, body, start, true).length
  const several = together && count > 1 ? `${count} bodies ` : ''
  const preset = defaultWayOf(investigation, body, start)
  const defaultLabel = { on: '▸ Enter', back: '◂ Enter', both: 'both ways · Enter' }[preset]
  return (
    <>
      {isReady && preset !== 'back' && start > investigation.span.first && (
        <BandButton label="◂ Back" onClick={() => void follow(session, 'back')} />
      )}
      {isReady && preset === 'both' && <BandButton label="On ▸" onClick={() => void follow(session, 'on')} />}
      <BandButton label={`Follow ${several}${defaultLabel}`} primary onClick={() => void follow(session)} />
    </>
  )
}

function AnswerButtons({ body }: { body: string }) {
  const session = useSession()
  const { by, isBackNext, news } = useFollowing()
  const question = news?.question
  const isColourOffered = question?.isByColourBetter && question.body === body && by === 'template'
  return (
    <>
      {isColourOffered && (
        <BandButton label="Follow its colour instead" primary onClick={() => goOnByColour(session)} />
      )}
      <BandButton label="It is hidden: look on" onClick={() => reply({ kind: 'look on' })} />
      <BandButton
        label={isBackNext ? 'Stop here, then go back' : 'Stop here'}
        onClick={() => reply({ kind: 'stop' })}
      />
    </>
  )
}
