import { CHANGES, type Change } from '@apokinema/core/following'
import { Flex, HStack, Slider, Text } from '@chakra-ui/react'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { followBy } from '../following/followActions.ts'
import { setFollowing, useFollowing } from '../following/followStore.ts'
import { followedFrom, landmarksFrom } from '../following/followTargets.ts'
import { BandCheck, BandSelect } from './BandFields.tsx'

const CHANGE_WORDS: Record<Change, string> = {
  constant: 'looks the same',
  slowly: 'changes slowly',
  quickly: 'changes quickly',
}

/** How a body is to be followed: chosen before it begins. */
export function FollowOptions({ body }: { body: string }) {
  const session = useSession()
  const investigation = useInvestigation()
  const { start, persistence, change, placedBy, together, replacesHand, by, landmarks } = useFollowing()
  const fixed = landmarksFrom(investigation, start)
  const bodies = followedFrom(investigation, body, start, true)
  return (
    <Flex align="center" gap="4" fontSize="small" color="whiteAlpha.900" flexWrap="wrap">
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
      <PersistenceSlider value={persistence} />
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
  )
}

/** From stopping where it is in doubt (0) to carrying on (1). */
function PersistenceSlider({ value: persistence }: { value: number }) {
  return (
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
  )
}
