import type { PredictionName } from '@apokinema/core/following'
import { Text } from '@chakra-ui/react'
import { useInvestigation } from '../../document/SessionContext.tsx'
import type { Question } from '../../footage/follow/followTask.ts'
import { useFollowing } from '../following/followStore.ts'
import { nameOf } from '../following/followTargets.ts'

const EXPECTED: Record<PredictionName, string> = {
  stays: 'expected to stay',
  steady: 'expected to go on steadily',
  curved: 'expected along a curve',
}

/** The state of following in a sentence. */
export function FollowStatus({ name: bodyName }: { name: string }) {
  const { phase, by, total, doneBefore, news } = useFollowing()
  const name = <b>{bodyName}</b>
  if (phase === 'waiting')
    return by === 'template' ? (
      <>Click {name} at the point that you want followed.</>
    ) : (
      <>Click a spot of {name} whose colour is nowhere around it: a sticker, a bright patch.</>
    )
  if (phase === 'outlining') return <OutliningStatus name={bodyName} />
  if (phase === 'ready')
    return by === 'template' ? (
      <>Is this the outline of {name}? Drag its border or its point where they are not right.</>
    ) : (
      <>{name} will be followed by the colour at its point. Click another spot for another colour.</>
    )
  if (phase === 'asking' && news?.question) return <QuestionText question={news.question} />
  if (!news) return 'Starting …'
  return (
    <>
      {phase === 'paused' ? 'Held' : 'Following'}{' '}
      {news.reaches.length > 1 ? `${news.reaches.length} bodies` : name}: {doneBefore + news.done} of {total}
    </>
  )
}

function OutliningStatus({ name: bodyName }: { name: string }) {
  const { share, draft, chosen } = useFollowing()
  const soFar = share === null ? '' : ` ${Math.round(share * 100)} %`
  const name = <b>{bodyName}</b>
  if (chosen)
    return (
      <>
        Learning the background{soFar} … Then {name} is followed.
      </>
    )
  if (draft)
    return (
      <>
        First outline of {name}. Learning the background{soFar} …
      </>
    )
  return <>Learning the background{soFar} …</>
}

/** What is asked where a body is lost or ambiguous. */
function QuestionText({ question: { body, frame, since, why } }: { question: Question }) {
  const whose = <b>{nameOf(useInvestigation(), body)}</b>
  if (why === 'two')
    return (
      <>
        Two places in frame {frame} look like {whose}. Click the right one.
      </>
    )
  if (why === 'elsewhere')
    return (
      <>
        {whose} has not been seen since frame {since}. Is this it? If so, click it.
      </>
    )
  return (
    <>
      {whose} {since < frame ? `has not been seen since frame ${since}` : `is not seen in frame ${frame}`}.
      Click where it is now, or say what to do.
    </>
  )
}

/** Rate, prediction and certainty while it goes. */
export function FollowDetails() {
  const { phase, news } = useFollowing()
  const isGoing = phase === 'running' || phase === 'paused'
  const reach = news?.reaches[0]
  const details =
    news && isGoing
      ? [
          `${news.rate.toFixed(0)} frames/s`,
          reach && EXPECTED[reach.by],
          reach?.byOutline && 'by its outline',
          reach?.certainty != null && `${Math.round(reach.certainty * 100)} % sure`,
        ].filter((one) => typeof one === 'string')
      : []
  // Rendered from the start: inserting its styles with the first news would restyle the whole page.
  return (
    <Text as="span" color="whiteAlpha.800" display={{ base: 'none', xl: 'inline' }}>
      {details.map((one) => ` · ${one}`)}
    </Text>
  )
}
