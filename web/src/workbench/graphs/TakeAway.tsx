import { fileNameOf } from '@apokinema/core/formats'
import {
  type CanvasContext,
  CanvasPen,
  drawGraph,
  type GraphDescription,
  type GraphExtras,
  type GraphStyle,
  type Limits,
  lowered,
  SvgPen,
} from '@apokinema/core/graphs'
import type { Graph } from '@apokinema/core/investigation'
import { Button, HStack, IconButton, SegmentGroup, Text } from '@chakra-ui/react'
import { Download } from 'lucide-react'
import { memo, useState } from 'react'
import { notify } from '../../common/messages.tsx'
import { Pop } from '../../common/Pop.tsx'
import { saveFile } from '../../common/saveFile.ts'
import { TickBox } from '../../common/TickBox.tsx'
import { useInvestigation } from '../../document/SessionContext.tsx'
import { BODY_PAINT, PAINT } from '../../theme/system.ts'

/** Size of a graph that is taken away, in pixels of its drawing. */
const SIZE = { width: 960, height: 560 }
const FINE = ['1×', '2×', '4×'] as const
const MIME = { PNG: 'image/png', SVG: 'image/svg+xml' } as const
type Kind = keyof typeof MIME

/** Everything of a graph that is drawn. */
export interface DrawnGraph {
  graph: Graph
  description: GraphDescription
  limits: { across: Limits; up: Limits }
  extras: GraphExtras
}

/** What is drawn of each graph that is on the page now, by its id: for what takes graphs away from elsewhere. */
export const drawnGraphs = new Map<string, () => DrawnGraph>()

function styleOf({ grid, look, errorBars }: Graph, isClear: boolean): GraphStyle {
  return {
    ...SIZE,
    colours: Object.fromEntries(Object.entries(BODY_PAINT).map(([name, { mark }]) => [name, mark])),
    ink: PAINT.ink,
    muted: PAINT.inkMuted,
    line: '#E4E0D5',
    ground: isClear ? null : '#FFFFFF',
    words: "'Instrument Sans Variable', 'Instrument Sans', sans-serif",
    numbers: "'JetBrains Mono Variable', 'JetBrains Mono', monospace",
    grid,
    look,
    errorBars,
  }
}

function svgOf({ graph, description, limits, extras }: DrawnGraph, isClear: boolean): Blob {
  const pen = new SvgPen(SIZE.width, SIZE.height)
  drawGraph(pen, description, limits, extras, styleOf(graph, isClear))
  return new Blob([pen.text()], { type: MIME.SVG })
}

/** A graph as a picture. */
export async function pngOf(
  { graph, description, limits, extras }: DrawnGraph,
  isClear: boolean,
  fine: number,
): Promise<Blob> {
  const canvas = document.createElement('canvas')
  canvas.width = fine * SIZE.width
  canvas.height = fine * SIZE.height
  const context = canvas.getContext('2d')!
  context.scale(fine, fine)
  const pen = new CanvasPen(
    context as CanvasContext<Path2D>,
    SIZE.width,
    SIZE.height,
    (path) => new Path2D(path),
  )
  drawGraph(pen, description, limits, extras, styleOf(graph, isClear))
  return new Promise((resolve, reject) => {
    canvas.toBlob((blob) => (blob ? resolve(blob) : reject(new Error('No picture was made.'))), MIME.PNG)
  })
}

/** Takes a graph elsewhere: as a picture or a drawing, to a file or to the clipboard. */
export const TakeAway = memo(function TakeAway({ title, drawn }: { title: string; drawn: () => DrawnGraph }) {
  const investigation = useInvestigation((now) => now.title)
  const [kind, setKind] = useState<Kind>('PNG')
  const [fine, setFine] = useState<string>('2×')
  const [isClear, setClear] = useState(false)
  const made = () =>
    kind === 'SVG'
      ? Promise.resolve(svgOf(drawn(), isClear))
      : pngOf(drawn(), isClear, Number.parseInt(fine, 10))
  const copy = async () => {
    try {
      const content = await made()
      // Browsers take pictures as PNG; a drawing goes as its text.
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
