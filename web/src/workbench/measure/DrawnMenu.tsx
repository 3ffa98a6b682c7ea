import type { Drawn } from '@apokinema/core/investigation'
import { frameBlock } from '@apokinema/words/report/choices'
import { Box, Button, NativeSelect, Popover, Portal, Stack, Text } from '@chakra-ui/react'
import { FileInput, ImageDown, Layers } from 'lucide-react'
import { memo } from 'react'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { usePutIntoReport } from '../usePutIntoReport.ts'
import { useWorkbench } from '../workbenchStore.ts'
import { ChronoDialog } from './ChronoDialog.tsx'
import { saveStage } from './saveStage.ts'

const TRAILS = [0.1, 0.2, 0.5, 1, 2, 5, 10]
const SWITCHES: [keyof Omit<Drawn, 'trail'>, string][] = [
  ['times', 'times along the trail'],
  ['velocity', 'velocity as arrows'],
  ['acceleration', 'acceleration as arrows'],
  ['momentum', 'momentum as arrows'],
  ['curves', 'fitted motion'],
]

/** What is drawn on the picture besides the marks, and the exports of it. */
export const DrawnMenu = memo(function DrawnMenu() {
  const session = useSession()
  const drawn = useInvestigation((now) => now.drawn)
  const title = useInvestigation((now) => now.title)
  const putIntoReport = usePutIntoReport()
  const change = (what: Partial<Drawn>) =>
    session.edit('change what is drawn on the picture', (draft) => {
      Object.assign(draft.drawn, what)
    })
  return (
    <Popover.Root positioning={{ placement: 'top-end' }} lazyMount unmountOnExit>
      <Popover.Trigger asChild>
        <Button
          size="2xs"
          variant="ghost"
          color="white"
          _hover={{ bg: 'whiteAlpha.200' }}
          _expanded={{ bg: 'whiteAlpha.300' }}
          fontFamily="body"
          fontWeight="400"
        >
          <Layers size={14} /> On the picture
        </Button>
      </Popover.Trigger>
      <Portal>
        <Popover.Positioner>
          <Popover.Content width="15rem">
            <Popover.Body padding="3">
              <Popover.Title fontWeight="600" marginBottom="2">
                On the picture
              </Popover.Title>
              <Stack gap="1.5">
                <Text as="label" fontSize="small">
                  Trails fade over
                  <NativeSelect.Root size="xs" marginTop="1">
                    <NativeSelect.Field
                      value={drawn.trail ?? ''}
                      onChange={(event) => change({ trail: Number(event.target.value) || null })}
                    >
                      <option value="">as long as suits</option>
                      {TRAILS.map((seconds) => (
                        <option key={seconds} value={seconds}>
                          {seconds} s
                        </option>
                      ))}
                    </NativeSelect.Field>
                    <NativeSelect.Indicator />
                  </NativeSelect.Root>
                </Text>
                {SWITCHES.map(([key, label]) => (
                  <Box key={key} as="label" display="flex" gap="2" fontSize="small">
                    <input
                      type="checkbox"
                      checked={drawn[key] ?? false}
                      onChange={(event) => change({ [key]: event.target.checked })}
                    />
                    {label}
                  </Box>
                ))}
                <Button
                  size="xs"
                  variant="outline"
                  justifyContent="flex-start"
                  marginTop="2"
                  onClick={() => void saveStage(title)}
                >
                  <ImageDown size={14} /> This picture as PNG
                </Button>
                <ChronoDialog />
                <Button
                  size="xs"
                  variant="outline"
                  justifyContent="flex-start"
                  onClick={() => putIntoReport(frameBlock(useWorkbench.getState().frame))}
                >
                  <FileInput size={14} /> Put into the report
                </Button>
              </Stack>
            </Popover.Body>
          </Popover.Content>
        </Popover.Positioner>
      </Portal>
    </Popover.Root>
  )
})
