import type { GraphFit } from '@apokinema/core/analysis'
import { curveThrough, type FreeForm } from '@apokinema/core/fitting'
import type { Limits } from '@apokinema/core/graphs'
import { edits } from '@apokinema/core/investigation'
import { significant } from '@apokinema/core/units'
import { Box } from '@chakra-ui/react'
import { useMemo, useRef, useState } from 'react'
import { useSession } from '../../document/SessionContext.tsx'
import { COLOUR } from '../../theme/palettes.ts'
import { type Area, type Place, placesIn } from '../chart/area.ts'
import { GraphHandle } from '../chart/GraphHandle.tsx'
import { readForm } from './readForm.ts'
import { useByEye } from './useFitting.ts'

/** Handles are closer together at the beginning: evenly spaced ones can't tell an oscillation from a faster one (aliasing). */
const UNEVEN = 1.5

/** Points of the curve that is drawn. */
const POINTS = 160

/** The curve of a free form that is being laid by eye, if its fit is one of these. */
export function ByEye({
  fits,
  ...rest
}: {
  fits: readonly GraphFit[]
  limits: { x: Limits; y: Limits }
  area: Area
}) {
  const fit = useByEye((state) => state.fit)
  const shown = fits.find(({ id }) => id === fit)
  const expression = shown?.settings.model === 'free-form' ? shown.settings.expression : null
  const form = useMemo(() => (expression === null ? null : readForm(expression, 't').form), [expression])
  return shown && form && <Laid key={`${shown.id} ${expression}`} shown={shown} form={form} {...rest} />
}

/** Returns the first and last time of a fit's stretch. */
function spanOf({ range, columns: [{ table }] }: GraphFit): [number, number] {
  const rows = table.frames.flatMap((frame, row) => (frame >= range.from && frame <= range.to ? [row] : []))
  return [table.times[rows[0] ?? 0] ?? 0, table.times[rows.at(-1) ?? 0] ?? 1]
}

/** Returns the points of a free form's curve at some times (s). */
function curveOf(form: FreeForm, times: number[], parameters: readonly number[]): Place[] {
  const values = new Float64Array(times.length)
  form.on(times)(Float64Array.from(parameters), values, null)
  return times.map((x, i) => ({ x, y: values[i] }))
}

/** The curve at the start values of the fit, with a handle per parameter. */
function Laid({
  shown,
  form,
  limits,
  area,
}: {
  shown: GraphFit
  form: FreeForm
  limits: { x: Limits; y: Limits }
  area: Area
}) {
  const session = useSession()
  const { id, settings, fit } = shown
  const [from, to] = spanOf(shown)
  const [times, setTimes] = useState(() =>
    form.parameters.map((_, k) => from + (to - from) * ((k + 0.5) / form.parameters.length) ** UNEVEN),
  )
  const found = new Map(fit?.parameters.map(({ key, value, kept }) => [key, value * kept]))
  const now = form.parameters.map((name) =>
    Object.hasOwn(settings.start, name) ? settings.start[name] : (found.get(name) ?? 1),
  )
  const { pixelOf, moved } = placesIn(limits, area)
  const handles = curveOf(form, times, now)
  /** Handles and values when a drag began. */
  const held = useRef({ handles, now })
  const last = useRef(now)
  /** Returns the edit that leads the curve through a handle's new position. */
  const begin = (
    which: number,
    { handles: were, now: before }: typeof held.current,
    dx: number,
    dy: number,
  ) => {
    const places = were.map((place, k) => (k === which ? moved(place, dx, dy) : place))
    last.current = curveThrough(form, before, places) ?? last.current
    setTimes(places.map(({ x }) => x))
    return edits.changeFit(id, {
      start: Object.fromEntries(form.parameters.map((name, k) => [name, last.current[k]])),
    })
  }
  const line = curveOf(
    form,
    Array.from({ length: POINTS + 1 }, (_, i) => from + ((to - from) * i) / POINTS),
    now,
  )
    .filter(({ y }) => Number.isFinite(y))
    .map(pixelOf)
  return (
    <Box as="svg" position="absolute" inset="0" width="100%" height="100%" pointerEvents="none" data-by-eye>
      <CurveLine id={`by-eye-${id}`} line={line} area={area} />
      {handles.map((place, k) => {
        const at = pixelOf(place)
        if (!Number.isFinite(at.y)) return null
        const inside = Math.min(area.top + area.height, Math.max(area.top, at.y))
        return (
          <GraphHandle
            // biome-ignore lint/suspicious/noArrayIndexKey: handles are told apart by their order
            key={k}
            at={{ x: at.x, y: inside }}
            label={`Handle ${k + 1} of the curve`}
            value={place.y}
            text={`${significant(place.y, 3)} at ${significant(place.x, 3)} s`}
            onHold={() => {
              held.current = { handles, now }
              last.current = now
            }}
            onMove={(dx, dy) => session.preview(begin(k, held.current, dx, dy))}
            onDrop={(dx, dy) => session.edit('lay the curve by eye', begin(k, held.current, dx, dy))}
            onKey={(dx, dy) =>
              session.edit('lay the curve by eye', begin(k, { handles, now }, dx, dy), `by eye ${id}`)
            }
            onCancel={() => session.preview(null)}
          />
        )
      })}
    </Box>
  )
}

/** A dashed line in pixels, cut off at the plot's edges. */
function CurveLine({ id, line, area }: { id: string; line: Place[]; area: Area }) {
  return (
    <>
      <clipPath id={id}>
        <rect x={area.left} y={area.top} width={area.width} height={area.height} />
      </clipPath>
      <g clipPath={`url(#${id})`}>
        <polyline
          points={line.map(({ x, y }) => `${x},${y}`).join(' ')}
          fill="none"
          stroke={COLOUR.petrol}
          strokeWidth={2}
          strokeDasharray="7 5"
        />
      </g>
    </>
  )
}
