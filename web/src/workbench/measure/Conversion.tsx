import { API, type ConversionAnswer } from '@apokinema/core/api'
import { edits } from '@apokinema/core/investigation'
import { Box, Button, Center, HStack, Progress, Stack, Text } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { useEffect, useState } from 'react'
import { Link } from 'react-router'
import { client } from '../../api/client.ts'
import { conversionQuery, queryClient, useConversionMutation } from '../../api/queries.ts'
import { useSession } from '../../document/SessionContext.tsx'
import { footageOf, openInWorker } from '../../footage/clip.ts'
import { sendPoster, useUploads } from '../../footage/uploads.ts'

/** State of the upload and conversion of footage, with actions. */
export function Conversion() {
  const session = useSession()
  const upload = useUploads((all) => all[session.id])
  const asked = useQuery({
    ...conversionQuery(session.id),
    refetchInterval: ({ state }) =>
      upload || ['waiting', 'running'].includes(state.data?.state ?? '') ? 500 : false,
  })
  const cancel = useConversionMutation(session.id, client.cancelConversion)
  const again = useConversionMutation(session.id, client.convertAgain)
  const conversion = asked.data ?? null
  // The conversion appears shortly after the file has arrived.
  const uploading = upload !== undefined
  useEffect(() => {
    if (!uploading) void queryClient.invalidateQueries(conversionQuery(session.id))
  }, [uploading, session.id])

  return (
    <Center height="100%" padding="6" color="white">
      <Stack
        gap="3"
        width="100%"
        maxWidth="30rem"
        role="status"
        data-conversion={upload ? 'uploading' : (conversion?.state ?? 'none')}
      >
        {upload ? (
          <Upload share={upload.share} failed={upload.failed} />
        ) : conversion ? (
          <State conversion={conversion} cancel={cancel} again={again} />
        ) : (
          <Text color="whiteAlpha.800">
            {asked.isPending
              ? 'Looking for the footage …'
              : 'This investigation has no footage. Start a new one from a video.'}
          </Text>
        )}
      </Stack>
    </Center>
  )
}

function Upload({ share, failed }: { share: number; failed: string | null }) {
  if (failed) return <Text role="alert">{failed}</Text>
  return (
    <>
      <Text fontWeight="600">Uploading the video, to be converted</Text>
      <Bar share={share} label="Upload" />
      <Text fontSize="small" color="whiteAlpha.800">
        This browser can’t show it as it is. Keep this page open until it has arrived; where the connection
        breaks, it goes on by itself.
      </Text>
    </>
  )
}

function State({
  conversion,
  cancel,
  again,
}: {
  conversion: ConversionAnswer
  cancel: () => void
  again: () => void
}) {
  const { state, name, progress, ahead, problem, technical } = conversion
  if (state === 'done') return <TakeIn conversion={conversion} />
  if (state === 'waiting' || state === 'running')
    return (
      <>
        <Text fontWeight="600">
          {state === 'running'
            ? `Converting ${name}`
            : ahead > 0
              ? `${name} waits: ${ahead === 1 ? 'one other is' : `${ahead} others are`} converted first`
              : `${name} is about to be converted`}
        </Text>
        <Bar share={progress} label="Conversion" />
        <Text fontSize="small" color="whiteAlpha.800">
          Frame for frame, with the times of the file. This page can be closed meanwhile.
        </Text>
        <HStack>
          <Button size="xs" variant="subtle" onClick={cancel}>
            Cancel
          </Button>
        </HStack>
      </>
    )
  return (
    <>
      <Text fontWeight="600">
        {state === 'cancelled' ? 'The conversion was cancelled' : `${name} can’t be used`}
      </Text>
      {problem && <Text role="alert">{problem}</Text>}
      {technical && (
        <Box as="details" fontSize="small">
          <summary>What the converter said</summary>
          <Text
            as="pre"
            whiteSpace="pre-wrap"
            fontFamily="mono"
            fontSize="tiny"
            maxHeight="10rem"
            overflow="auto"
          >
            {technical}
          </Text>
        </Box>
      )}
      <HStack>
        <Button size="xs" variant="subtle" onClick={again}>
          Try again
        </Button>
        <Button size="xs" variant="subtle" asChild>
          <Link to="/">Choose another video</Link>
        </Button>
      </HStack>
    </>
  )
}

/** Sets converted footage as that of this investigation. */
function TakeIn({ conversion: { id, name, size } }: { conversion: ConversionAnswer }) {
  const session = useSession()
  const [failure, setFailure] = useState<string | null>(null)
  useEffect(() => {
    let dropped = false
    const take = async () => {
      const address = API.footage(session.id, id)
      const clip = await openInWorker(address)
      clip.close()
      if (dropped || session.document.footage) return
      const footage = footageOf(clip.facts, { id, name, size, converted: true })
      session.edit('put the footage in', edits.setFootage(footage))
      await sendPoster(session.id, id, address)
    }
    take().catch((error: Error) => {
      if (!dropped) setFailure(error.message)
    })
    return () => {
      dropped = true
    }
  }, [session, id, name, size])
  return <Text role={failure ? 'alert' : undefined}>{failure ?? 'Opening the converted video …'}</Text>
}

function Bar({ share, label }: { share: number; label: string }) {
  return (
    <Progress.Root value={100 * share} max={100} size="sm" colorPalette="brand" aria-label={label}>
      <HStack>
        <Progress.Track flex="1" bg="whiteAlpha.300">
          <Progress.Range />
        </Progress.Track>
        <Progress.ValueText
          color="white"
          fontFamily="mono"
          fontSize="small"
          minWidth="3rem"
          textAlign="right"
        >
          {Math.round(100 * share)} %
        </Progress.ValueText>
      </HStack>
    </Progress.Root>
  )
}
