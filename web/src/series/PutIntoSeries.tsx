import { seriesEdits } from '@apokinema/core/series'
import { Button, Dialog, Field } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import { client } from '../api/client.ts'
import { seriesListQuery, useListMutation } from '../api/queries.ts'
import { notify } from '../common/messages.tsx'
import { Select } from '../common/Select.tsx'
import { Window } from '../common/Window.tsx'
import { createSeriesWith, editStoredSeries } from './createSeries.ts'

const NEW = 'new'

/** Puts an investigation into a series that is chosen, or into a new one. */
export function PutIntoSeries({ id, title, close }: { id: string; title: string; close: () => void }) {
  const { data: all = [] } = useQuery(seriesListQuery(false))
  const [chosen, setChosen] = useState<string | null>(null)
  const series = chosen ?? all[0]?.id ?? NEW
  const put = useListMutation(async () => {
    if (series === NEW) await createSeriesWith(id, (await client.open(id)).document)
    else await editStoredSeries(series, () => seriesEdits.addTrial(id))
    const name = all.find((one) => one.id === series)?.title
    notify(
      name ? `“${title}” is a trial of “${name}” now.` : `“${title}” is the first trial of a new series.`,
    )
  })
  return (
    <Window title={`Put “${title}” into a series`} size="sm" open close={close}>
      <Dialog.Body>
        <Field.Root>
          <Field.Label>Series</Field.Label>
          <Select
            label="Series"
            size="sm"
            value={series}
            options={[...all.map((one) => [one.id, one.title] as const), [NEW, 'A new series'] as const]}
            choose={setChosen}
          />
        </Field.Root>
      </Dialog.Body>
      <Dialog.Footer>
        <Button variant="outline" onClick={close}>
          Cancel
        </Button>
        <Button
          colorPalette="brand"
          onClick={() => {
            put()
            close()
          }}
        >
          Put it in
        </Button>
      </Dialog.Footer>
    </Window>
  )
}
