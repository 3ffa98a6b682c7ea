import { fileNameOf } from '@apokinema/core/formats'
import { lowered } from '@apokinema/core/graphs'
import { Button, HStack, IconButton, SegmentGroup, Text } from '@chakra-ui/react'
import { Download } from 'lucide-react'
import { memo, useState } from 'react'
import { notify } from '../../common/messages.tsx'
import { Pop } from '../../common/Pop.tsx'
import { saveFile } from '../../common/saveFile.ts'
import { TickBox } from '../../common/TickBox.tsx'
import { shownOf, useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { graphDrawing } from '../chart/graphModel.ts'
import { PICTURE_SIZE, pngOf } from '../chart/graphPictures.ts'

const FINE = ['1×', '2×', '4×'] as const
const MIME = { PNG: 'image/png', SVG: 'image/svg+xml' } as const
type Kind = keyof typeof MIME

/** Exports a graph: as PNG or SVG, to a file or to the clipboard. */
export const TakeAway = memo(function TakeAway({ id, title }: { id: string; title: string }) {
  const session = useSession()
  const investigation = useInvestigation((now) => now.title)
  const [kind, setKind] = useState<Kind>('PNG')
  const [fine, setFine] = useState<string>('2×')
  const [isClear, setClear] = useState(false)
  const made = async () => {
    const drawing = graphDrawing(shownOf(session.store.getState()), id, PICTURE_SIZE)
    if (!drawing) throw new Error('The graph is gone.')
    const ground = isClear ? null : '#FFFFFF'
    if (kind === 'PNG') return pngOf(drawing, PICTURE_SIZE, Number.parseInt(fine, 10), ground)
    // Few who look at graphs need what draws SVG.
    const { svgOf, svgText } = await import('../chart/graphSvg.ts')
    return new Blob([svgText(svgOf(drawing, PICTURE_SIZE, ground))], { type: MIME.SVG })
  }
  const copy = async () => {
    try {
      const content = await made()
      // Clipboards accept pictures as PNG; a drawing is copied as text.
      await (kind === 'PNG'
        ? navigator.clipboard.write([new ClipboardItem({ [MIME.PNG]: content })])
        : navigator.clipboard.writeText(await content.text()))
      notify('The graph is on the clipboard.')
    } catch {
      notify('This browser does not let pages use the clipboard here. Download the graph instead.')
    }
  }
  const download = async () => {
    const name = fileNameOf({ title: `${investigation}, ${lowered(title)}` }, kind.toLowerCase())
    saveFile(await made(), name)
  }
  return (
    <Pop
      placement="bottom-end"
      width="16rem"
      button={
        <IconButton
          size="2xs"
          variant="ghost"
          aria-label={`Take ${lowered(title)} away`}
          title="As a picture, or a drawing"
        >
          <Download size={14} />
        </IconButton>
      }
    >
      <Text fontWeight="600">Take the graph away</Text>
      <HStack gap="2">
        <Segments items={Object.keys(MIME)} value={kind} choose={(one) => setKind(one as Kind)} />
        {kind === 'PNG' && <Segments items={FINE} value={fine} choose={setFine} />}
      </HStack>
      <TickBox on={isClear} set={setClear}>
        transparent
      </TickBox>
      <HStack>
        <Button size="xs" variant="outline" onClick={() => void copy()}>
          Copy
        </Button>
        <Button size="xs" colorPalette="brand" onClick={() => void download()}>
          Download
        </Button>
      </HStack>
    </Pop>
  )
})

function Segments({
  items,
  value,
  choose,
}: {
  items: readonly string[]
  value: string
  choose: (item: string) => void
}) {
  return (
    <SegmentGroup.Root size="xs" value={value} onValueChange={({ value: one }) => one && choose(one)}>
      <SegmentGroup.Indicator />
      <SegmentGroup.Items items={[...items]} />
    </SegmentGroup.Root>
  )
}
