import { type AxesRule, type Measuring, seriesEdits, type TrialView } from '@apokinema/core/series'
import { Button, Text } from '@chakra-ui/react'
import { Upload } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import { notify } from '../common/messages.tsx'
import { Select } from '../common/Select.tsx'
import { makeTrials } from './addTrials.ts'
import { useOpenSeries, useSeriesAnalysis } from './SeriesContext.tsx'

const ACCEPT = 'video/*,.mp4,.m4v,.mov,.webm,.mkv'

/** Trials with a calibration are measured by themselves; the others wait for theirs. */
const measuringFor = (view: TrialView): Measuring | null =>
  view.kind === 'other' ? null : { kind: 'waiting' }

/** Takes clips that are chosen, or dropped anywhere on the page, as trials that are set up like the pattern. */
export function AddTrials() {
  const { session, refresh } = useOpenSeries()
  const analysis = useSeriesAnalysis()
  const input = useRef<HTMLInputElement>(null)
  const [progress, setProgress] = useState<string | null>(null)

  const add = async (files: File[]) => {
    const [id, document] = [analysis.patternId(), analysis.patternDocument()]
    if (id === null || !document) {
      notify('Wait until the first trial is loaded: new ones are set up like it.')
      return
    }
    await makeTrials(
      files,
      { id, document },
      {
        progress: (done) => setProgress(`Adding ${done + 1} of ${files.length} …`),
        made: (trial) =>
          session.edit(
            'add a trial',
            seriesEdits.addTrial(trial.id, trial.view, measuringFor(trial.view)),
            'add trials',
          ),
        refused: (name, error) => notify(`${name} was not added. ${error.message}`),
      },
    )
    setProgress(null)
    await session.delivered()
    await refresh().catch(() => {})
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
  return (
    <>
      <Button
        size="sm"
        colorPalette="brand"
        loading={progress !== null}
        loadingText={progress}
        onClick={() => input.current?.click()}
      >
        <Upload size={15} aria-hidden /> Add trials
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
  )
}
