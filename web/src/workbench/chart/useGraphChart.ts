import { Chart } from 'chart.js'
import { type Dispatch, type RefObject, type SetStateAction, useEffect, useLayoutEffect, useRef } from 'react'
import type { Look } from '../../theme/look.ts'
import type { Area } from './area.ts'
import { type GraphChart, graphConfiguration, graphDatasets, graphOptions } from './graphChart.ts'
import type { GraphDrawing } from './graphDrawing.ts'
import { type GraphHighlights, setHighlights } from './highlights.ts'
import { annotationsPlugin, cursorPlugin, stretchesPlugin } from './plugins.ts'

/**
 * Keeps the chart of a graph on a canvas: it is laid out again when its content changes, and only redrawn when its
 * highlights change.
 *
 * @param chart is set to the chart while there is one
 * @param axisName element at the right end of the x axis, which tick labels leave free
 * @param setArea is called with the plot area, in pixels of the canvas, whenever it changes
 */
export function useGraphChart(
  canvas: RefObject<HTMLCanvasElement | null>,
  chart: RefObject<GraphChart | null>,
  drawing: GraphDrawing,
  highlights: GraphHighlights,
  look: Look,
  axisName: RefObject<HTMLElement | null>,
  setArea: Dispatch<SetStateAction<Area | null>>,
): void {
  const shown = useRef<(GraphDrawing & { look: Look }) | null>(null)

  useLayoutEffect(() => {
    const taken = () => roomAt(axisName.current)
    const { content, limits } = drawing
    const last = shown.current
    shown.current = { ...drawing, look }
    if (!chart.current || !last) {
      const onLayout = {
        id: 'layout',
        afterLayout: ({ chartArea: { left, top, width, height } }: Chart) =>
          setArea((now) =>
            now?.left === left && now.top === top && now.width === width && now.height === height
              ? now
              : { left, top, width, height },
          ),
      }
      const plugins = [
        stretchesPlugin(() => shown.current!.look),
        annotationsPlugin(() => shown.current!),
        cursorPlugin(() => shown.current!.look),
        onLayout,
      ]
      chart.current = new Chart(
        canvas.current!,
        graphConfiguration(drawing, { sprites: true, look, taken, plugins }),
      )
      setHighlights(chart.current as Chart, highlights)
      chart.current.draw()
      return
    }
    const instance = chart.current
    setHighlights(instance as Chart, highlights)
    const isSameContent = last.content === content && last.look === look
    const isSet = isSameContent || replaceDatasets(instance, graphDatasets(content, true, look))
    const isSameScale =
      last.look === look &&
      last.content.description === content.description &&
      last.content.graph.grid === content.graph.grid
    if (!isSameScale) {
      instance.options = graphOptions(content.description, limits, content.graph.grid, { taken, look })
    } else if (last.limits !== limits) {
      const { x, y } = instance.options.scales!
      Object.assign(x!, { min: limits.x.from, max: limits.x.to })
      Object.assign(y!, { min: limits.y.from, max: limits.y.to })
    }
    if (isSet && isSameScale && last.limits === limits) instance.draw()
    else instance.update('none')
  }, [canvas, chart, drawing, highlights, look, axisName, setArea])

  useEffect(
    () => () => {
      chart.current?.destroy()
      chart.current = null
      shown.current = null
    },
    [chart],
  )
}

/**
 * Replaces the datasets of a chart. Returns whether they have the same types as before: then they need no update, since
 * controllers read their dataset when they draw.
 */
function replaceDatasets({ data }: GraphChart, datasets: GraphChart['data']['datasets']): boolean {
  const isAlike =
    datasets.length === data.datasets.length &&
    datasets.every(({ type }, i) => type === data.datasets[i].type)
  if (isAlike) for (const [i, dataset] of datasets.entries()) Object.assign(data.datasets[i], dataset)
  else data.datasets = datasets
  return isAlike
}

/** Returns the distance in pixels from an element to the right end of its parent. */
const roomAt = (element: HTMLElement | null) =>
  element ? element.offsetParent!.clientWidth - element.offsetLeft : 0
