import { CHANGES, type Change, type PredictionName } from '@apokinema/core/following'
import { Flex, HStack, Slider, Text } from '@chakra-ui/react'
import { type ReactNode, useState } from 'react'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { BODY_PAINT } from '../../theme/system.ts'
import { endFollowing, followBy, goOnByColour, pauseFollowing, reply } from '../following/followActions.ts'
import { follow } from '../following/followRun.ts'
import { setFollowing, useFollowing } from '../following/followStore.ts'
import { defaultWayOf, followedFrom, landmarksFrom, nameOf } from '../following/followTargets.ts'
import { Marker } from '../Marker.tsx'
import { BandButton } from './BandButton.tsx'
import { BandCheck, BandSelect } from './BandFields.tsx'
import { BandFrame } from './BandFrame.tsx'

const CHANGE_WORDS: Record<Change, string> = {
  constant: 'looks the same',
  slowly: 'changes slowly',
  quickly: 'changes quickly',
}

const EXPECTED: Record<PredictionName, string> = {
  stays: 'expected to stay',
  steady: 'expected to go on steadily',
  curved: 'expected along a curve',
}

/** What following is at, above the stage, with what can be done about it. */
export function FollowBand({ body: id }: { body: string }) {
  const session = useSession()
  const investigation = useInvestigation()
  const following = useFollowing()
  const { phase, start, share, draft, chosen, total, doneBefore, isBackNext, news } = following
  const { persistence, change, placedBy, together, replacesHand, by, landmarks } = following
  const [isHowOpen, setHowOpen] = useState(false)
  const body = investigation.bodies[id]
  if (!body) return null
  const isSetting = phase === 'ready' || phase === 'waiting'
  const name = <b>{body.name}</b>
  const fixed = landmarksFrom(investigation, start)
  const bodies = followedFrom(investigation, id, start, true)
  const several = together && bodies.length > 1 ? `${bodies.length} bodies ` : ''

  const button = (label: string, act: () => void, primary = false) => (
    <BandButton label={label} primary={primary} onClick={act} />
  )
  /** Returns what can be chosen before it goes; while the outline is not there yet only the usual way. */
  const goes = (isReady: boolean) => {
    const preset = defaultWayOf(investigation, id, start)
    const defaultLabel = { on: '▸ Enter', back: '◂ Enter', both: 'both ways · Enter' }[preset]
    return (
      <>
        {isReady &&
          preset !== 'back' &&
          start > investigation.span.first &&
          button('◂ Back', () => void follow(session, 'back'))}
        {isReady && preset === 'both' && button('On ▸', () => void follow(session, 'on'))}
        {button(`Follow ${several}${defaultLabel}`, () => void follow(session), true)}
      </>
    )
  }
  let says: ReactNode
  let more: string[] = []
  let does: ReactNode = null
  if (phase === 'waiting')
    says =
      by === 'template' ? (
        <>Click {name} at the point that you want followed.</>
      ) : (
        <>Click a spot of {name} whose colour is nowhere around it: a sticker, a bright patch.</>
      )
  else if (phase === 'outlining') {
    const soFar = share === null ? '' : ` ${Math.round(share * 100)} %`
    says = chosen ? (
      <>
        Learning the background{soFar} … Then {name} is followed.
      </>
    ) : draft ? (
      <>
        First outline of {name}. Learning the background{soFar} …
      </>
    ) : (
      <>Learning the background{soFar} …</>
    )
    if (!chosen) does = goes(false)
  } else if (phase === 'ready') {
    says =
      by === 'template' ? (
        <>Is this the outline of {name}? Drag its border or its point where they are not right.</>
      ) : (
        <>{name} will be followed by the colour at its point. Click another spot for another colour.</>
      )
    does = goes(true)
  } else if (phase === 'asking' && news?.question) {
    const { body: asked, frame, since, why } = news.question
    const whose = <b>{nameOf(investigation, asked)}</b>
    says =
      why === 'two' ? (
        <>
          Two places in frame {frame} look like {whose}. Click the right one.
        </>
      ) : why === 'elsewhere' ? (
        <>
          {whose} has not been seen since frame {since}. Is this it? If so, click it.
        </>
      ) : (
        <>
          {whose} {since < frame ? `has not been seen since frame ${since}` : `is not seen in frame ${frame}`}
          . Click where it is now, or say what to do.
        </>
      )
    does = (
      <>
        {news.question.isByColourBetter &&
          asked === id &&
          by === 'template' &&
          button('Follow its colour instead', () => goOnByColour(session), true)}
        {button('It is hidden: look on', () => reply({ kind: 'look on' }))}
        {button(isBackNext ? 'Stop here, then go back' : 'Stop here', () => reply({ kind: 'stop' }))}
      </>
    )
  } else {
    const reach = news?.reaches[0]
    if (news)
      more = [
        `${news.rate.toFixed(0)} frames/s`,
        ...(reach ? [EXPECTED[reach.by]] : []),
        ...(reach?.byOutline ? ['by its outline'] : []),
        ...(reach?.certainty != null ? [`${Math.round(reach.certainty * 100)} % sure`] : []),
      ]
    says = news ? (
      <>
        {phase === 'paused' ? 'Held' : 'Following'}{' '}
        {news.reaches.length > 1 ? `${news.reaches.length} bodies` : name}: {doneBefore + news.done} of{' '}
        {total}
      </>
    ) : (
      'Starting …'
    )
    does = button(phase === 'paused' ? 'Go on · Space' : 'Hold · Space', () =>
      pauseFollowing(phase !== 'paused'),
    )
  }

  return (
    <BandFrame direction="column" align="stretch" rowGap="1" paddingY="1.5" data-band data-follow={phase}>
      <Flex align="center" gap="3" flexWrap="wrap">
        <Marker shape={body.shape} colour={BODY_PAINT[body.colour].mark} />
        <Text flex="1" minWidth="12rem" role="status">
          {says}
          {/* There from the start: styles that come with the first news would have all of the page styled anew. */}
          <Text as="span" color="whiteAlpha.800" display={{ base: 'none', xl: 'inline' }}>
            {more.map((one) => ` · ${one}`)}
          </Text>
        </Text>
        {isSetting && (
          <BandButton label="How …" expanded={isHowOpen} onClick={() => setHowOpen(!isHowOpen)} />
        )}
        {does}
        {button(phase === 'running' || phase === 'paused' ? 'Stop · Esc' : 'Done · Esc', endFollowing)}
      </Flex>
      {isSetting && isHowOpen && (
        <Flex align="center" gap="4" fontSize="13px" color="whiteAlpha.900" flexWrap="wrap">
          <BandSelect
            label="By what it is followed"
            value={by}
            choices={[
              ['template', 'by its look'],
              ['colour', 'by a colour on it'],
            ]}
            width="9.5rem"
            onChange={(way) => followBy(session, way)}
          />
          <HStack gap="2">
            <Text as="label">Where in doubt: stop early</Text>
            <Slider.Root
              width="84px"
              size="sm"
              min={0}
              max={1}
              step={0.25}
              value={[persistence]}
              aria-label={['From stop early to carry on']}
              onValueChange={({ value }) => setFollowing({ persistence: value[0] })}
            >
              <Slider.Control>
                <Slider.Track bg="whiteAlpha.400">
                  <Slider.Range bg="white" />
                </Slider.Track>
                <Slider.Thumbs />
              </Slider.Control>
            </Slider.Root>
            <Text>carry on</Text>
          </HStack>
          <HStack gap="2">
            <Text>It</Text>
            <BandSelect
              label="How much its look changes"
              value={change}
              choices={CHANGES.map((one) => [one, CHANGE_WORDS[one]])}
              width="9.5rem"
              onChange={(one) => setFollowing({ change: one })}
            />
          </HStack>
          {by === 'template' && (
            <HStack gap="2">
              <Text>Mark</Text>
              <BandSelect
                label="What is marked of it"
                value={placedBy}
                choices={[
                  ['either', 'what is steadier'],
                  ['template', 'the clicked spot, as it turns'],
                  ['outline', 'all of it, by its outline'],
                ]}
                width="13rem"
                onChange={(one) => setFollowing({ placedBy: one })}
              />
            </HStack>
          )}
          {bodies.length > 1 && (
            <BandCheck
              label={`all ${bodies.length} bodies that are outlined here`}
              checked={together}
              onChange={(on) => setFollowing({ together: on })}
            />
          )}
          {fixed.length > 0 && (
            <BandCheck
              label={`${fixed.length === 1 ? 'the landmark' : `${fixed.length} landmarks`}, too`}
              checked={landmarks}
              onChange={(on) => setFollowing({ landmarks: on })}
            />
          )}
          <BandCheck
            label="over marks set by hand, too"
            checked={replacesHand}
            onChange={(on) => setFollowing({ replacesHand: on })}
          />
        </Flex>
      )}
    </BandFrame>
  )
}
