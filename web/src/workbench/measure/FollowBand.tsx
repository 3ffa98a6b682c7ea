import { Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { useInvestigation } from '../../document/SessionContext.tsx'
import { BODY_PAINT } from '../../theme/palettes.ts'
import { endFollowing } from '../following/followActions.ts'
import { useFollowing } from '../following/followStore.ts'
import { Marker } from '../Marker.tsx'
import { BandButton } from './BandButton.tsx'
import { BandFrame } from './BandFrame.tsx'
import { FollowButtons } from './FollowButtons.tsx'
import { FollowOptions } from './FollowOptions.tsx'
import { FollowDetails, FollowStatus } from './FollowStatus.tsx'

/** The line above the stage while a body is followed: the state of following, and what can be done about it. */
export function FollowBand({ body: id }: { body: string }) {
  const body = useInvestigation().bodies[id]
  const { phase } = useFollowing()
  const [isHowOpen, setHowOpen] = useState(false)
  if (!body) return null
  const isSetting = phase === 'ready' || phase === 'waiting'
  const isGoing = phase === 'running' || phase === 'paused'
  return (
    <BandFrame direction="column" align="stretch" rowGap="1" paddingY="1.5" data-band data-follow={phase}>
      <Flex align="center" gap="3" flexWrap="wrap">
        <Marker shape={body.shape} colour={BODY_PAINT[body.colour]} />
        <Text flex="1" minWidth="12rem" role="status">
          <FollowStatus name={body.name} />
          <FollowDetails />
        </Text>
        {isSetting && (
          <BandButton label="How …" expanded={isHowOpen} onClick={() => setHowOpen(!isHowOpen)} />
        )}
        <FollowButtons body={id} />
        <BandButton label={isGoing ? 'Stop · Esc' : 'Done · Esc'} onClick={endFollowing} />
      </Flex>
      {isSetting && isHowOpen && <FollowOptions body={id} />}
    </BandFrame>
  )
}
