import type { GraphFit } from '@apokinema/core/analysis'
import { fitTex } from '@apokinema/core/fitting'
import { fitText } from '@apokinema/words/fitText'
import { Button, Menu, Portal } from '@chakra-ui/react'
import { notify } from '../../common/messages.tsx'
import { useInvestigation } from '../../document/SessionContext.tsx'
import { graphDrawing } from '../chart/graphModel.ts'
import { PICTURE_SIZE, pngOf } from '../chart/graphPictures.ts'

/** Copies a fit: as text, as TeX, or as a picture. */
export function CopyFit({ shown }: { shown: GraphFit }) {
  const investigation = useInvestigation()
  const { bodies, stretches, graphs } = investigation
  const { settings, all } = shown
  const copy = async (kind: string) => {
    const { number, graph } = stretches[settings.stretch]
    const title = `${bodies[graphs[graph].body].name}, stretch ${number}`
    try {
      const drawing = kind === 'picture' ? graphDrawing(investigation, graph, PICTURE_SIZE) : null
      if (drawing) {
        const picture = await pngOf(drawing, PICTURE_SIZE, 2, '#FFFFFF')
        await navigator.clipboard.write([new ClipboardItem({ 'image/png': picture })])
      } else await navigator.clipboard.writeText(kind === 'tex' ? fitTex(all) : fitText(all, title))
      notify(
        kind === 'picture' ? 'The graph with the fit is on the clipboard.' : 'The fit is on the clipboard.',
      )
    } catch {
      notify('This browser does not let pages use the clipboard here.')
    }
  }
  return (
    <Menu.Root onSelect={({ value }) => void copy(value)}>
      <Menu.Trigger asChild>
        <Button size="2xs" variant="plain" paddingX="0" color="petrol">
          Copy…
        </Button>
      </Menu.Trigger>
      <Portal>
        <Menu.Positioner>
          <Menu.Content>
            <Menu.Item value="text">As text</Menu.Item>
            <Menu.Item value="tex">As TeX</Menu.Item>
            <Menu.Item value="picture">As a picture of its graph</Menu.Item>
          </Menu.Content>
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  )
}
