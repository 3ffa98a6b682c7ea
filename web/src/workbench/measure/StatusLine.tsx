import { analyse } from '@apokinema/core/analysis'
import { fixed, metresIn, significant, withUnit } from '@apokinema/core/units'
import { Box, Button, Flex } from '@chakra-ui/react'
import { Maximize, Minimize } from 'lucide-react'
import { memo } from 'react'
import { useInvestigation } from '../../document/SessionContext.tsx'
import { useClock, usePicture } from '../ClipContext.tsx'
import { enterFullScreen, leaveFullScreen, useFullScreen } from '../fullScreen.ts'
import { useWorkbench } from '../workbenchStore.ts'
import { DrawnMenu } from './DrawnMenu.tsx'

/** Frame, time, pointer in scene units, zoom. */
export const StatusLine = memo(function StatusLine({ zoom }: { zoom: number }) {
  const hasFootage = useInvestigation((now) => now.footage !== null)
  if (!hasFootage) return null
  return (
    <Flex
      flex="none"
      height="7"
      align="center"
      gap="4"
      paddingX="4"
      bg="stage"
      color="whiteAlpha.800"
      fontFamily="mono"
      fontSize="small"
      whiteSpace="nowrap"
      overflow="hidden"
    >
      <Frame />
      {/* On a phone there is no room for both of these; its loupe says where it points, too. */}
      <Box hideBelow="md">
        <Pointer />
      </Box>
      <Box flex="1" />
      <DrawnMenu />
      <FullScreenButton />
      <Box hideBelow="md" data-zoom={Math.round(zoom * 100)}>
        zoom {Math.round(zoom * 100)} %
      </Box>
    </Flex>
  )
})

/** Gives the picture the whole screen, and shows everything else again. */
function FullScreenButton() {
  const isAlone = useFullScreen(({ on }) => on)
  return (
    <Button
      size="2xs"
      variant="ghost"
      color="white"
      _hover={{ bg: 'whiteAlpha.200' }}
      fontFamily="body"
      fontWeight="400"
      aria-label={isAlone ? 'Back' : 'Whole screen'}
      title={isAlone ? 'Show everything else again (W)' : 'Give the picture the whole screen (W)'}
      onClick={isAlone ? leaveFullScreen : enterFullScreen}
    >
      {isAlone ? <Minimize size={14} /> : <Maximize size={14} />}
      <Box as="span" hideBelow="md">
        {isAlone ? 'Back' : 'Whole screen'}
      </Box>
    </Button>
  )
}

/** Plain elements: they change with every step. */
function Frame() {
  const clock = useClock()
  const frame = useWorkbench((state) => state.frame)
  const { picture } = usePicture()
  if (!clock) return null
  const seconds = clock.seconds[frame] - clock.zero
  return (
    <>
      <span>
        frame <b>{frame}</b>
      </span>
      <span data-time={seconds} style={{ color: '#F0C063' }}>
        t {withUnit(fixed(seconds, 4), 's')}
      </span>
      {picture && !picture.exact && <span>sharpening …</span>}
    </>
  )
}

function Pointer() {
  const investigation = useInvestigation()
  const reticle = useWorkbench((state) => state.reticle)
  const frame = useWorkbench((state) => state.shown ?? state.frame)
  const { lengthUnit } = investigation
  if (!reticle) return null
  const scene = analyse(investigation).scene()
  const at = scene.at(frame)?.toScene(reticle)
  if (!at) return <span>no landmark tells where this is</span>
  const unit = scene.scale ? lengthUnit : 'px'
  const factor = unit === 'px' ? 1 : 1 / metresIn(unit)
  const length = (value: number) => (unit === 'm' ? fixed(value, 3) : significant(factor * value, 4))
  return (
    <span>
      pointer x {length(at.x)} y {withUnit(length(at.y), unit)}
    </span>
  )
}
