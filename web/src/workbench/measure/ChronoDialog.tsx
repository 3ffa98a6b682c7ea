import { fileNameOf } from '@apokinema/core/formats'
import { Box, Button, Dialog, HStack, Image, Stack, Text } from '@chakra-ui/react'
import { Aperture } from 'lucide-react'
import { useEffect, useState } from 'react'
import { notify } from '../../common/messages.tsx'
import { Select } from '../../common/Select.tsx'
import { saveFile } from '../../common/saveFile.ts'
import { parseNumber, TextField } from '../../common/TextField.tsx'
import { TickBox } from '../../common/TickBox.tsx'
import { Window } from '../../common/Window.tsx'
import { useInvestigation } from '../../document/SessionContext.tsx'
import { useClip } from '../ClipContext.tsx'
import { type ChronoChoice, chronoTask, makeChronophotograph, markedBodies } from './chronophotograph.ts'

const ARROWS: Record<ChronoChoice['arrows'], string> = {
  none: 'no arrows',
  velocity: 'velocity as arrows',
  acceleration: 'acceleration as arrows',
  momentum: 'momentum as arrows',
}

/** Makes a chronophotograph: one still of all marked positions, from the footage. */
export function ChronoDialog() {
  const investigation = useInvestigation()
  const { from } = useClip()
  const bodies = markedBodies(investigation)
  const [choice, setChoice] = useState<Omit<ChronoChoice, 'bodies'>>({
    every: 3,
    arrows: 'none',
    grid: false,
  })
  const [without, setWithout] = useState<string[]>([])
  const [share, setShare] = useState<number | null>(null)
  const [made, setMade] = useState<{ blob: Blob; address: string } | null>(null)
  useEffect(() => () => URL.revokeObjectURL(made?.address ?? ''), [made])
  if (bodies.length === 0 || from === null) return null
  const set = (change: Partial<typeof choice>) => setChoice({ ...choice, ...change })
  const make = async () => {
    const chosen = bodies.map(([id]) => id).filter((id) => !without.includes(id))
    const task = chronoTask(investigation, { ...choice, bodies: chosen })
    if (!task) {
      notify('No mark lies in the span. Mark the body first.')
      return
    }
    setShare(0)
    const found = await makeChronophotograph(from, task, setShare).catch((error: Error) => error.message)
    setShare(null)
    if (typeof found === 'string') notify(found)
    else setMade({ blob: found, address: URL.createObjectURL(found) })
  }
  return (
    <Window
      title="All positions in one still"
      size="lg"
      close={() => setMade(null)}
      button={
        <Button size="xs" variant="outline" justifyContent="flex-start">
          <Aperture size={14} /> Chronophotograph …
        </Button>
      }
    >
      <Dialog.Body>
        <Stack gap="3">
          <Choices choice={choice} set={set} bodies={bodies} without={without} setWithout={setWithout} />
          {made && (
            <Image src={made.address} alt="All marked positions in one still" width="100%" data-chrono />
          )}
          {!made && (
            <Text fontSize="small" color="ink.muted">
              The body is cut out of the footage at every n-th mark and laid over what stands still there.
            </Text>
          )}
        </Stack>
      </Dialog.Body>
      <Dialog.Footer>
        {share !== null && (
          <Text role="status" color="ink.muted" marginRight="auto">
            {Math.round(100 * share)} %
          </Text>
        )}
        <Button
          variant={made ? 'outline' : 'solid'}
          {...(made ? {} : { colorPalette: 'brand' })}
          disabled={share !== null || without.length === bodies.length}
          onClick={() => void make()}
        >
          {made ? 'Make it anew' : 'Make it'}
        </Button>
        {made && <PictureButtons blob={made.blob} title={investigation.title} />}
      </Dialog.Footer>
    </Window>
  )
}

function PictureButtons({ blob, title }: { blob: Blob; title: string }) {
  return (
    <>
      <Button variant="outline" onClick={() => copyPicture(blob)}>
        Copy
      </Button>
      <Button
        colorPalette="brand"
        onClick={() => saveFile(blob, fileNameOf({ title: `${title}, chronophotograph` }, 'png'))}
      >
        Download
      </Button>
    </>
  )
}

/** Which marks, bodies and arrows the still shows. */
function Choices({
  choice,
  set,
  bodies,
  without,
  setWithout,
}: {
  choice: Omit<ChronoChoice, 'bodies'>
  set(change: Partial<Omit<ChronoChoice, 'bodies'>>): void
  bodies: ReturnType<typeof markedBodies>
  without: readonly string[]
  setWithout(without: string[]): void
}) {
  return (
    <HStack gap="4" align="flex-end" flexWrap="wrap">
      <Box width="7rem">
        <TextField
          label="every n-th mark"
          value={String(choice.every)}
          inputMode="numeric"
          onCommit={(text) => {
            const every = parseNumber(text)
            if (every === null || every < 1 || !Number.isInteger(every)) return 'From 1 on.'
            set({ every })
            return null
          }}
        />
      </Box>
      <Select
        label="Arrows"
        width="12rem"
        value={choice.arrows}
        options={Object.entries(ARROWS) as [ChronoChoice['arrows'], string][]}
        choose={(arrows) => set({ arrows })}
      />
      <TickBox on={choice.grid} set={(grid) => set({ grid })}>
        grid
      </TickBox>
      {bodies.length > 1 &&
        bodies.map(([id, { name }]) => (
          <TickBox
            key={id}
            on={!without.includes(id)}
            set={(on) => setWithout(on ? without.filter((one) => one !== id) : [...without, id])}
          >
            {name}
          </TickBox>
        ))}
    </HStack>
  )
}

function copyPicture(blob: Blob): void {
  navigator.clipboard.write([new ClipboardItem({ [blob.type]: blob })]).then(
    () => notify('The picture is on the clipboard.'),
    () => notify('This browser does not let pages use the clipboard here. Download the picture instead.'),
  )
}
