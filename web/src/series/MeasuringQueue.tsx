import { inOrder, pictureSize } from '@apokinema/core/investigation'
import { seriesEdits } from '@apokinema/core/series'
import { measuringText } from '@apokinema/words/series'
import { Box, Button, Flex, HStack, Progress, Stack, Text } from '@chakra-ui/react'
import { useEffect, useRef } from 'react'
import { Link } from 'react-router'
import { footageSource } from '../footage/footageSource.ts'
import { drawFrame, framePicture } from '../workbench/report/investigation/framePictures.ts'
import { useMeasuring } from './measuringStore.ts'
import { useOpenSeries, useSeries, useSeriesSession } from './SeriesContext.tsx'

/** What is being measured, what waits, and what a person is asked; nothing if there is nothing of it. */
export function MeasuringQueue() {
  const running = useMeasuring((state) => state.running)
  const { listed } = useOpenSeries()
  const { trials } = useSeries()
  const waiting = inOrder(trials).filter(([, { measuring }]) => measuring?.kind === 'waiting')
  const asked = inOrder(trials).filter(([, { measuring }]) => measuring?.kind === 'question')
  if (waiting.length + asked.length === 0) return null
  const titleOf = (id: string) => listed.get(id)?.title ?? 'a trial'
  return (
    <Box as="section" aria-label="Being measured" data-queue={waiting.length}>
      <Text as="h2" fontWeight="600">
        {waiting.length > 0 ? 'Being measured' : 'To look at'}
      </Text>
      {running && (
        <Box marginTop="1">
          <Flex justify="space-between" fontSize="small">
            <Text truncate>
              {titleOf(running.trial)}, {running.doing}
            </Text>
            <Text fontFamily="mono">{Math.round(100 * running.share)} %</Text>
          </Flex>
          <Progress.Root
            size="xs"
            value={100 * running.share}
            aria-label={`${titleOf(running.trial)} is being measured`}
          >
            <Progress.Track>
              <Progress.Range bg="petrol" />
            </Progress.Track>
          </Progress.Root>
        </Box>
      )}
      {waiting.length > (running ? 1 : 0) && (
        <Text fontSize="small" color="ink.muted">
          {running ? waiting.length - 1 : waiting.length} more {waiting.length > 2 ? 'wait' : 'waits'}.
        </Text>
      )}
      <Stack gap="2" marginTop="2">
        {asked.map(([id]) => (
          <Question key={id} trial={id} title={titleOf(id)} />
        ))}
      </Stack>
    </Box>
  )
}

/** The frame that is asked about, with what is marked in it. */
function QuestionPicture({ trial, frame }: { trial: string; frame: number }) {
  const canvas = useRef<HTMLCanvasElement>(null)
  const document = useOpenSeries().documents.get(trial)
  useEffect(() => {
    if (!document?.footage) return
    const { width, height } = document.footage
    let isLatest = true
    void footageSource(trial, document.footage.id)
      .then((from) => framePicture(from, frame))
      .then((image) => {
        const context = canvas.current?.getContext('2d')
        if (isLatest && image && context) drawFrame(context, document, { width, height }, image, frame)
      })
    return () => {
      isLatest = false
    }
  }, [trial, document, frame])
  if (!document?.footage) return null
  const { width, height } = pictureSize(document)
  return (
    <canvas
      ref={canvas}
      width={width}
      height={height}
      role="img"
      aria-label={`Frame ${frame}`}
      style={{ width: '100%', maxHeight: '160px', objectFit: 'contain', marginTop: '8px' }}
    />
  )
}

/** A question about a trial: a person looks at the frame, and says when it is settled. */
function Question({ trial, title }: { trial: string; title: string }) {
  const session = useSeriesSession()
  const { measuring } = useSeries().trials[trial]
  if (measuring?.kind !== 'question') return null
  const { frame, why } = measuring
  return (
    <Box
      border="1px dashed"
      borderColor="petrol"
      borderRadius="8px"
      bg="petrol.tint"
      padding="3"
      data-question={why}
    >
      <Text fontWeight="600" truncate>
        {title}, frame {frame}
      </Text>
      <Text fontSize="small">{measuringText(why)}</Text>
      <QuestionPicture trial={trial} frame={frame} />
      <HStack gap="2" marginTop="2">
        <Button size="xs" variant="outline" bg="panel" asChild>
          <Link to={`/investigations/${trial}?frame=${frame}`}>Show me</Link>
        </Button>
        <Button
          size="xs"
          variant="ghost"
          onClick={() => session.edit(`settle ${title}`, seriesEdits.setMeasuring(trial, null))}
        >
          It is settled
        </Button>
      </HStack>
    </Box>
  )
}
