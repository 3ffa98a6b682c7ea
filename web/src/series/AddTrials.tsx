import { inOrder, type Mutator } from '@apokinema/core/investigation'
import { type AxesRule, isSetUp, type Series, seriesEdits } from '@apokinema/core/series'
import { Button, Text } from '@chakra-ui/react'
import { Upload, Video, WandSparkles } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import { Link } from 'react-router'
import { notify } from '../common/messages.tsx'
import { Select } from '../common/Select.tsx'
import { type AddedTrial, makeTrials, setUpTrials } from './addTrials.ts'
import { firstLook } from './createSeries.ts'
import { useOpenSeries, useSeriesAnalysis } from './SeriesContext.tsx'

const ACCEPT = 'video/*,.mp4,.m4v,.mov,.webm,.mkv'

/** The ways to more trials: clips that are chosen or dropped anywhere on the page, a camera, and setting up those that are there already. */
export function AddTrials() {
  const { session, refresh, listed, isLoading } = useOpenSeries()
  const analysis = useSeriesAnalysis()
  const input = useRef<HTMLInputElement>(null)
  const [progress, setProgress] = useState<string | null>(null)
  const { isPatternSetUp, bare } = useSetUp()
  const patternId = analysis.patternId()
  const first = (patternId && listed.get(patternId)?.title) || 'the first trial'

  const work = async (
    doing: (done: number) => string,
    act: (on: Parameters<typeof makeTrials>[2]) => Promise<void>,
    editFor: (trial: AddedTrial) => Mutator<Series>,
  ) => {
    await act({
      progress: (done) => setProgress(doing(done)),
      done: (trial) => session.edit('add a trial', editFor(trial), 'add trials'),
      refused: (name, error) => notify(`${name} was not added. ${error.message}`),
    })
    setProgress(null)
    await session.delivered()
    await refresh().catch(() => {})
  }
  const add = async (files: File[]) => {
    const document = analysis.patternDocument()
    if (patternId !== null && !document) {
      notify('Wait until the first trial is loaded: new ones are set up like it.')
      return
    }
    const pattern = patternId !== null && document ? { id: patternId, document } : null
    await work(
      (done) => `Adding ${done + 1} of ${files.length} …`,
      (on) => makeTrials(files, pattern, on),
      ({ id, view, measuring }) => seriesEdits.addTrial(id, view, measuring),
    )
  }
  const setUpOthers = async () => {
    const document = analysis.patternDocument()
    if (patternId === null || !document) return
    for (const mutator of firstLook(document, Object.values(session.document.columns)))
      session.edit('show the first reading', mutator, 'set up trials')
    await work(
      (done) => `Setting up ${done + 1} of ${bare.length} …`,
      (on) => setUpTrials(bare, { id: patternId, document }, on),
      ({ id, view, measuring }) => seriesEdits.setUp(id, view, measuring),
    )
  }

  const adding = useRef(add)
  adding.current = add
  useEffect(() => {
    const onDragOver = (event: DragEvent) => event.preventDefault()
    const onDrop = (event: DragEvent) => {
      event.preventDefault()
      const files = [...(event.dataTransfer?.files ?? [])]
      if (files.length > 0) void adding.current(files)
    }
    window.addEventListener('dragover', onDragOver)
    window.addEventListener('drop', onDrop)
    return () => {
      window.removeEventListener('dragover', onDragOver)
      window.removeEventListener('drop', onDrop)
    }
  }, [])

  const isBusy = progress !== null
  const hasPattern = patternId !== null
  const next = isLoading
    ? 'none'
    : !isPatternSetUp && hasPattern
      ? 'measure'
      : bare.length > 0
        ? 'set-up'
        : 'add'
  const filled = (is: boolean) => (is ? { colorPalette: 'brand' } : { variant: 'outline' as const })
  return (
    <>
      {next === 'measure' && (
        <Button size="sm" colorPalette="brand" asChild>
          <Link to={`/investigations/${patternId}`}>Measure {first}</Link>
        </Button>
      )}
      {next === 'set-up' && (
        <Button
          size="sm"
          colorPalette="brand"
          loading={isBusy}
          loadingText={progress}
          onClick={() => void setUpOthers()}
        >
          <WandSparkles size={15} aria-hidden />
          {bare.length === 1
            ? 'Set up and measure the other one'
            : `Set up and measure the other ${bare.length}`}
        </Button>
      )}
      <Button
        size="sm"
        {...filled(next === 'add' || next === 'none')}
        loading={isBusy && next !== 'set-up'}
        loadingText={progress}
        disabled={isBusy}
        onClick={() => input.current?.click()}
      >
        <Upload size={15} aria-hidden /> Add trials
      </Button>
      <Button size="sm" variant="outline" asChild>
        <Link to={`/record?series=${session.id}`}>
          <Video size={15} aria-hidden /> Record the next
        </Link>
      </Button>
      <input
        ref={input}
        type="file"
        multiple
        hidden
        accept={ACCEPT}
        aria-label="Clips of more trials"
        onChange={({ currentTarget }) => {
          const files = [...(currentTarget.files ?? [])]
          currentTarget.value = ''
          if (files.length > 0) void add(files)
        }}
      />
      {next === 'measure' ? (
        <Text fontSize="small" color="ink.muted">
          The others are then set up like it and measured by themselves.
        </Text>
      ) : (
        <>
          <Text fontSize="small" color="ink.muted">
            New trials are set up like the first one, with axes
          </Text>
          <Select
            label="Axes of new trials"
            width="11rem"
            value={analysis.series.axesRule}
            options={[
              ['taken-along', 'as in the first one'],
              ['along-motion', 'along their own motion'],
            ]}
            choose={(rule) =>
              session.edit('choose the axes of new trials', seriesEdits.setAxesRule(rule as AxesRule))
            }
          />
        </>
      )}
    </>
  )
}

/** Returns whether the pattern is set up, and the trials with footage that are not. */
function useSetUp(): { isPatternSetUp: boolean; bare: { id: string; title: string }[] } {
  const { listed, documents } = useOpenSeries()
  const analysis = useSeriesAnalysis()
  const pattern = analysis.patternDocument()
  const bare = inOrder(analysis.series.trials).flatMap(([id]) => {
    const document = documents.get(id)
    const isBare = document !== undefined && document.footage !== null && !isSetUp(document)
    return isBare && id !== analysis.patternId()
      ? [{ id, title: listed.get(id)?.title ?? document.title }]
      : []
  })
  return { isPatternSetUp: pattern !== null && isSetUp(pattern), bare }
}
