import { analyse } from '@apokinema/core/analysis'
import { fileNameOf } from '@apokinema/core/formats'
import { lowered } from '@apokinema/core/graphs'
import { type Investigation, inOrder } from '@apokinema/core/investigation'
import {
  type AlignedMotion,
  type Alignment,
  alignedMotions,
  type SeriesMotion,
  seriesEdits,
} from '@apokinema/core/series'
import { significant, unitFactor } from '@apokinema/core/units'
import { motionsBlock } from '@apokinema/words/report/seriesChoices'
import { motionTitle, motionTroubleText, timeGraphs } from '@apokinema/words/series'
import { Box, Button, Dialog, Flex, HStack, Image, Stack, Text } from '@chakra-ui/react'
import { Aperture, Layers } from 'lucide-react'
import { useEffect, useMemo, useState } from 'react'
import { v4 as uuid } from 'uuid'
import { MoreMenu } from '../common/MoreMenu.tsx'
import { notify } from '../common/messages.tsx'
import { Select } from '../common/Select.tsx'
import { saveFile } from '../common/saveFile.ts'
import { parseNumber, TextField } from '../common/TextField.tsx'
import { Window } from '../common/Window.tsx'
import { BODY_PAINT } from '../theme/palettes.ts'
import { Marker } from '../workbench/Marker.tsx'
import { motionDrawing, trialMarker } from './motionDrawing.ts'
import { TrialsReportButton } from './report/TrialsReportButton.tsx'
import { useOpenSeries, useSeriesAnalysis, useSeriesSession } from './SeriesContext.tsx'
import { TrialPlot } from './TrialPlot.tsx'
import { stepFor, type TrialStill, trialChronophotograph } from './trialChronophotograph.ts'

const ALIGNMENTS: readonly (readonly [Alignment['kind'], string])[] = [
  ['release', 'release: the stretch begins'],
  ['impact', 'impact: the stretch ends'],
  ['level', 'a level crossed'],
  ['film', 'the film begins'],
]

/** The button that draws the motions of all trials over each other. */
export function AddMotion() {
  const session = useSeriesSession()
  const pattern = useSeriesAnalysis().patternDocument()
  const [first] = pattern ? timeGraphs(pattern) : []
  if (!first) return null
  return (
    <Button
      size="sm"
      variant="outline"
      onClick={() =>
        session.edit(
          'draw the motions over each other',
          seriesEdits.setMotion(uuid(), { graph: first[0], alignment: { kind: 'release' } }),
        )
      }
    >
      <Layers size={15} aria-hidden /> Overlay the motions
    </Button>
  )
}

/** The motions of all trials over each other. */
export function MotionGraphs() {
  const { series } = useSeriesAnalysis()
  return inOrder(series.motions).map(([id, motion]) => <MotionGraph key={id} id={id} motion={motion} />)
}

function MotionGraph({ id, motion }: { id: string; motion: SeriesMotion }) {
  const session = useSeriesSession()
  const analysis = useSeriesAnalysis()
  const { titles } = useOpenSeries()
  const pattern = analysis.patternDocument()
  const { motions, without } = useMemo(
    () => alignedMotions(analysis.table.countingRows(), motion),
    [analysis, motion],
  )
  const graphs = pattern ? timeGraphs(pattern) : []
  const title = motionTitle(analysis, motion)
  const drawing = useMemo(() => motionDrawing(title, motions, titles), [title, motions, titles])
  const titleOf = (trial: string) => titles.get(trial) ?? 'A deleted investigation'
  const change = (changes: Partial<SeriesMotion>) =>
    session.edit(
      'choose how motions are drawn over each other',
      seriesEdits.setMotion(id, { ...motion, ...changes }),
    )
  return (
    <Box as="section" marginBottom="4" data-motion={id}>
      <Flex gap="2" align="center" wrap="wrap" marginBottom="1">
        <Text as="h2" fontWeight="600">
          {title}
        </Text>
        <Box flex="1" />
        <HStack gap="1" wrap="wrap">
          <Select
            label="Graph of each trial"
            width="11rem"
            value={motion.graph}
            options={graphs}
            choose={(graph) => change({ graph })}
          />
          <AlignmentFields
            alignment={motion.alignment}
            graph={motion.graph}
            change={(alignment) => change({ alignment })}
          />
          {pattern && motions.length > 0 && <StillWindow motions={motions} pattern={pattern} title={title} />}
          <TrialsReportButton what={lowered(title)} content={motionsBlock(id, 'graph')} />
          <MoreMenu
            of={title}
            size="2xs"
            choices={[
              {
                label: 'Remove',
                grave: true,
                act: () => session.edit('remove the motions', seriesEdits.removeMotion(id)),
              },
            ]}
          />
        </HStack>
      </Flex>
      {drawing ? (
        <>
          <TrialPlot drawing={drawing} about={`${motions.length} trials over each other`} />
          <MotionLegend motions={motions} />
        </>
      ) : (
        <Text color="ink.muted">No trial can be drawn here yet.</Text>
      )}
      {without.map(({ trial, trouble }) => (
        <Text key={trial.id} fontSize="small" color="ink.muted">
          {titleOf(trial.id)}: {motionTroubleText(trouble)}
        </Text>
      ))}
    </Box>
  )
}

/** Which trial has which marker. */
export function MotionLegend({ motions }: { motions: readonly AlignedMotion[] }) {
  const { titles } = useOpenSeries()
  return (
    <HStack as="ul" gap="3" wrap="wrap" listStyleType="none" aria-label="Trials in this graph">
      {motions.map(({ trial }, i) => {
        const { colour, shape } = trialMarker(i)
        return (
          <HStack key={trial.id} as="li" gap="1" fontSize="small">
            <Marker shape={shape} colour={BODY_PAINT[colour]} />
            {titles.get(trial.id) ?? 'A deleted investigation'}
          </HStack>
        )
      })}
    </HStack>
  )
}

/** Returns a round value in the middle of what points reach: a level that is crossed. */
function middleOf(points: readonly { y: number }[]): number {
  if (points.length === 0) return 0
  const values = points.map(({ y }) => y)
  return Number(((Math.min(...values) + Math.max(...values)) / 2).toPrecision(2))
}

/** Chooses the moment at which the trials are aligned; a level is typed in the graph's unit. */
export function AlignmentFields(props: {
  alignment: Alignment
  /** Id of the graph in the trials. */
  graph: string
  change: (alignment: Alignment) => void
}) {
  const { alignment, graph, change } = props
  const pattern = useSeriesAnalysis().patternDocument()
  const shown = pattern?.graphs[graph] ? analyse(pattern).graph(pattern.graphs[graph]) : null
  const unit = shown?.y.unit ?? ''
  const factor = unitFactor(unit)
  return (
    <>
      <Text color="ink.muted" fontSize="small">
        t = 0 at
      </Text>
      <Select
        label="Moment at which the trials are aligned"
        width="12rem"
        value={alignment.kind}
        options={ALIGNMENTS}
        choose={(kind) =>
          change(
            kind === 'level' ? { kind, level: factor * middleOf(shown?.series[0]?.points ?? []) } : { kind },
          )
        }
      />
      {alignment.kind === 'level' && (
        <Box width="6rem">
          <TextField
            label={`Level, ${unit}`}
            hideLabel
            size="xs"
            inputMode="decimal"
            value={significant(alignment.level / factor, 4)}
            onCommit={(text) => {
              const level = parseNumber(text)
              if (level === null) return 'A number such as 0.5.'
              change({ kind: 'level', level: level * factor })
              return null
            }}
          />
        </Box>
      )}
    </>
  )
}

/** Makes one still of all trials. */
function StillWindow({
  motions,
  pattern,
  title,
}: {
  motions: readonly AlignedMotion[]
  pattern: Investigation
  title: string
}) {
  const [step, setStep] = useState<number | null>(null)
  const [share, setShare] = useState<number | null>(null)
  const [made, setMade] = useState<(TrialStill & { address: string }) | null>(null)
  useEffect(() => () => URL.revokeObjectURL(made?.address ?? ''), [made])
  const seconds = step ?? stepFor(motions)
  const make = async () => {
    setShare(0)
    const still = await trialChronophotograph(motions, pattern, seconds, setShare).catch(
      (error: Error) => error.message,
    )
    setShare(null)
    if (typeof still === 'string') notify(still)
    else setMade({ ...still, address: URL.createObjectURL(still.blob) })
  }
  return (
    <Window
      title="All trials in one still"
      size="lg"
      close={() => setMade(null)}
      button={
        <Button size="xs" variant="outline">
          <Aperture size={14} aria-hidden /> Still …
        </Button>
      }
    >
      <Dialog.Body>
        <Stack gap="3">
          <Box width="14rem">
            <TextField
              label="seconds between positions"
              value={significant(seconds, 2)}
              inputMode="decimal"
              onCommit={(text) => {
                const typed = parseNumber(text)
                if (typed === null || typed <= 0) return 'A number above 0.'
                setStep(typed)
                return null
              }}
            />
          </Box>
          {made ? (
            <Image src={made.address} alt={`${title}, in one still`} width="100%" data-chrono />
          ) : (
            <Text fontSize="small" color="ink.muted">
              The bodies of all trials are laid over one picture, each at the same moments after t = 0.
            </Text>
          )}
          {made && made.without.length > 0 && (
            <Text fontSize="small">
              {made.without.length === 1 ? 'One trial is' : `${made.without.length} trials are`} not in it:
              the camera saw something else there.
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
          disabled={share !== null}
          onClick={() => void make()}
        >
          {made ? 'Make it anew' : 'Make it'}
        </Button>
        {made && (
          <Button colorPalette="brand" onClick={() => saveFile(made.blob, fileNameOf({ title }, 'png'))}>
            Download
          </Button>
        )}
      </Dialog.Footer>
    </Window>
  )
}
