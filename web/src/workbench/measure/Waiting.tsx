import { Box, Button, Center, HStack, Stack, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { notify } from '../../common/messages.tsx'
import { Loading } from '../../common/states.tsx'
import { useInvestigation } from '../../document/SessionContext.tsx'
import { createRepaired } from '../../investigations/create.ts'
import { useClip, usePicture } from '../ClipContext.tsx'

/** Says that the picture is loading, or why there is none. */
export function Waiting() {
  const { picture, failure } = usePicture()
  const { clip } = useClip()
  if (failure)
    return (
      <Center position="absolute" inset="0" padding="8" pointerEvents="none">
        <Stack gap="3" bg="rgba(24,29,31,0.94)" padding="4" borderRadius="8px" maxWidth="32rem">
          <Text role="alert" color="white">
            {failure} Your marks and settings are safe.
          </Text>
          {clip && <Repair />}
        </Stack>
      </Center>
    )
  if (picture) return null
  return (
    <Box height="100%" css={{ '& *': { color: 'white' } }}>
      <Loading text="Opening the video …" />
    </Box>
  )
}

/** Offers a repaired copy of footage with a frame that can't be decoded here. */
function Repair() {
  const { from } = useClip()
  const footage = useInvestigation(({ footage }) => footage)
  const navigate = useNavigate()
  const [isAtWork, setAtWork] = useState(false)
  if (!footage || footage.converted || !from) return null
  const repair = async () => {
    setAtWork(true)
    try {
      await navigate(`/investigations/${await createRepaired(from, footage.name)}`)
    } catch (error) {
      notify((error as Error).message)
      setAtWork(false)
    }
  }
  return (
    <HStack gap="3" flexWrap="wrap" pointerEvents="auto" onPointerDown={(event) => event.stopPropagation()}>
      <Button size="xs" variant="subtle" loading={isAtWork} onClick={() => void repair()}>
        Repair it in a new investigation
      </Button>
      <Text flex="1 1 14rem" fontSize="small" color="whiteAlpha.800">
        The server converts the video and goes on behind what is damaged. This one stays as it is.
      </Text>
    </HStack>
  )
}
