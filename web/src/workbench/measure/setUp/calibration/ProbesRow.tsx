import { analyse } from '@apokinema/core/analysis'
import { edits, inOrder, type Probe, type ProbeKind } from '@apokinema/core/investigation'
import { probeReading } from '@apokinema/core/scene'
import { Box, Button, Flex, HStack, Stack, Text } from '@chakra-ui/react'
import { MoreMenu } from '../../../../common/MoreMenu.tsx'
import { TextField } from '../../../../common/TextField.tsx'
import { useInvestigation, useSession } from '../../../../document/SessionContext.tsx'
import { enterMode } from '../../../calibrating.ts'
import { probeText } from '../../../lengths.ts'
import { useWorkbench, workbench } from '../../../workbenchStore.ts'
import { SetUpRow } from '../SetUpRow.tsx'

const KINDS: [ProbeKind, string][] = [
  ['distance', 'Distance'],
  ['angle', 'Angle'],
  ['slope', 'Angle against x'],
]

/** Distances and angles measured on the picture. They change nothing. */
export function ProbesRow() {
  const session = useSession()
  const investigation = useInvestigation()
  const probes = inOrder(investigation.probes)
  return (
    <SetUpRow
      state="plain"
      label="Probes"
      isBehindMore={probes.length === 0}
      value={probes.length === 0 ? 'none' : String(probes.length)}
      defaultOpen={probes.length > 0}
    >
      <Stack gap="2">
        {probes.length === 0 && (
          <Text fontSize="small" color="ink.muted">
            Measure a distance or an angle on the picture, to see whether the calibration holds. Probes never
            change it.
          </Text>
        )}
        {probes.map(([id, probe]) => (
          <ProbeRow key={id} id={id} probe={probe} />
        ))}
        <HStack gap="2" flexWrap="wrap">
          {KINDS.map(([kind, name]) => (
            <Button
              key={kind}
              size="2xs"
              variant="outline"
              onClick={() => enterMode(session, { kind: 'probe', probe: kind, points: [] })}
            >
              {name}
            </Button>
          ))}
        </HStack>
      </Stack>
    </SetUpRow>
  )
}

/** The name of a probe, its reading, and what can be done to it. */
function ProbeRow({ id, probe }: { id: string; probe: Probe }) {
  const session = useSession()
  const investigation = useInvestigation()
  const selection = useWorkbench((state) => state.selection)
  const reading = probeReading(analyse(investigation).scene(), probe)
  const chosen = selection?.kind === 'probe' && selection.probe === id
  return (
    <Flex columnGap="1" align="center" wrap="wrap" bg={chosen ? 'petrol.tint' : undefined} borderRadius="6px">
      <Box flex="1" minWidth="0">
        <TextField
          label="Name of the probe"
          hideLabel
          value={probe.name}
          fontFamily="body"
          maxLength={120}
          onFocus={() => workbench.select({ kind: 'probe', probe: id, point: 0 })}
          onCommit={(text) => {
            if (!text) return 'A name, please.'
            session.edit('name the probe', edits.changeProbe(id, { name: text }))
            return null
          }}
        />
      </Box>
      <MoreMenu
        of={probe.name}
        size="2xs"
        choices={[
          {
            label: probe.oneFrame ? 'Show on every frame' : `Show on frame ${probe.points[0].frame} only`,
            act: () =>
              session.edit(
                'change where a probe shows',
                edits.changeProbe(id, { oneFrame: !probe.oneFrame }),
              ),
          },
          {
            label: 'Delete',
            grave: true,
            act: () => session.edit('delete the probe', edits.removeProbe(id)),
          },
        ]}
      />
      <Text data-probe-reading fontFamily="mono" fontSize="small" width="100%" paddingLeft="2">
        {reading ? probeText(reading, investigation.lengthUnit) : '–'}
      </Text>
    </Flex>
  )
}
