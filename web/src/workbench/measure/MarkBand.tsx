import { type Body, edits, framesOf, type Mark, OUTLIER_LIMIT } from '@apokinema/core/investigation'
import { markErrors } from '@apokinema/core/motion'
import { fixed } from '@apokinema/core/units'
import { Box, HStack, Text } from '@chakra-ui/react'
import { MoreMenu } from '../../common/MoreMenu.tsx'
import { TextField } from '../../common/TextField.tsx'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { useClock } from '../ClipContext.tsx'
import { startFollowing } from '../following/followActions.ts'
import { clearStretch, markAgainFrom, restFrom, sayBreak } from '../marking.ts'
import { deleteSelected } from '../selecting.ts'
import { goToNextOutlier, useTrackDiagnosis } from '../trackDiagnosis.ts'
import { useWorkbench } from '../workbenchStore.ts'
import { BandButton } from './BandButton.tsx'
import { BandSelect } from './BandFields.tsx'
import { BandFrame } from './BandFrame.tsx'

/** Above the stage while a mark is selected: its origin, what is unusual about it, and actions. */
export function MarkBand() {
  const { bodies } = useInvestigation()
  const selection = useWorkbench((state) => state.selection)
  const chosen = selection?.kind === 'mark' ? selection : null
  const diagnosis = useTrackDiagnosis(chosen?.body ?? null)
  const body = chosen && bodies[chosen.body]
  const mark = body?.marks[chosen!.frame]
  if (!chosen || !body || !mark) return null
  const { frame } = chosen
  const outlier = diagnosis.outliers.find((one) => one.frame === frame)
  const jump = diagnosis.jumps.find((one) => one.frame === frame)
  const isBreak = diagnosis.breaks.includes(frame)
  return (
    <BandFrame
      flexWrap="wrap"
      data-mark-band
      {...(outlier && { 'data-stray': frame })}
      {...(jump && { 'data-jump': frame })}
      {...(isBreak && { 'data-break': frame })}
    >
      {outlier ? (
        <OutlierWords
          id={chosen.body}
          frame={frame}
          size={outlier.size}
          others={diagnosis.outliers.length - 1}
        />
      ) : jump ? (
        <JumpWords id={chosen.body} frame={frame} length={jump.length} />
      ) : isBreak ? (
        <BreakWords id={chosen.body} frame={frame} />
      ) : (
        <MarkWords id={chosen.body} body={body} frame={frame} mark={mark} />
      )}
    </BandFrame>
  )
}

function OutlierWords(props: { id: string; frame: number; size: number; others: number }) {
  const { id, frame, size, others } = props
  const session = useSession()
  const { bodies, outlierLimit } = useInvestigation()
  const diagnosis = useTrackDiagnosis(id)
  const limits = Array.from(
    { length: OUTLIER_LIMIT.most - OUTLIER_LIMIT.least + 1 },
    (_, i) => OUTLIER_LIMIT.least + i,
  )
  return (
    <>
      <Text flex="1" minWidth="14rem" role="status">
        Outlier: this mark of <b>{bodies[id].name}</b> is {size > 99 ? 'more than 99' : fixed(size, 0)}{' '}
        standard errors away from the motion of its neighbours.
        <Text as="span" display={{ base: 'none', md: 'inline' }}>
          {' '}
          Drag it to the right place, or:
        </Text>
      </Text>
      <BandButton
        label="It is correct"
        onClick={() => session.edit(`confirm the mark in frame ${frame}`, edits.confirmMark(id, frame))}
      />
      <BandButton label="Delete it" onClick={() => deleteSelected(session)} />
      {others > 0 && (
        <BandButton label={`Next of ${others} more`} onClick={() => goToNextOutlier(id, diagnosis, frame)} />
      )}
      <HStack gap="1" fontSize="small" display={{ base: 'none', md: 'flex' }}>
        <Text as="label" color="whiteAlpha.800">
          outliers beyond
        </Text>
        <BandSelect
          label="Standard errors beyond which a mark is an outlier"
          value={outlierLimit}
          choices={limits.map((limit) => [limit, String(limit)])}
          width="3.6rem"
          onChange={(limit) =>
            session.edit('change when a mark is an outlier', (draft) => {
              draft.outlierLimit = limit
            })
          }
        />
      </HStack>
    </>
  )
}

function JumpWords({ id, frame, length }: { id: string; frame: number; length: number }) {
  const session = useSession()
  const { bodies } = useInvestigation()
  return (
    <>
      <Text flex="1" minWidth="14rem" role="status">
        <b>{bodies[id].name}</b> jumps by {fixed(length, 0)} px before frame {frame}. Is it still the same
        body?
      </Text>
      <BandButton label="Show it here" primary onClick={() => startFollowing(session, false)} />
      <BandButton label="It is correct" onClick={() => sayBreak(session, id, frame, 'none')} />
    </>
  )
}

function BreakWords({ id, frame }: { id: string; frame: number }) {
  const session = useSession()
  const { bodies } = useInvestigation()
  return (
    <>
      <Text flex="1" minWidth="14rem" role="status">
        <b>{bodies[id].name}</b> changes direction or speed abruptly at frame {frame}. Bounce or collision?
        <Text as="span" display={{ base: 'none', md: 'inline' }}>
          {' '}
          If yes, velocity is not computed across it.
        </Text>
      </Text>
      <BandButton label="Yes" primary onClick={() => sayBreak(session, id, frame, 'break')} />
      <BandButton label="No" onClick={() => sayBreak(session, id, frame, 'none')} />
    </>
  )
}

/** Returns the origin of a mark. */
function kindOf(mark: Mark): string {
  if (mark.by === 'follow') return `followed, ${Math.round(100 * mark.certainty)} % sure`
  const { streak } = mark
  return streak ? `by hand, a streak of ${fixed(2 * Math.hypot(streak.x, streak.y), 0)} px` : 'by hand'
}

function MarkWords({ id, body, frame, mark }: { id: string; body: Body; frame: number; mark: Mark }) {
  const session = useSession()
  const clock = useClock()
  const word = body.breaks[frame]
  const next = framesOf(body).find((at) => at > frame)
  const last = next === undefined ? (clock?.seconds.length ?? 1) - 1 : next - 1
  return (
    <>
      <Text flex="1" minWidth="12rem" truncate>
        <b>{body.name}</b> in frame {frame}
        <Text as="span" color="whiteAlpha.800">
          {' '}
          · {kindOf(mark)} · ± {fixed(markErrors(body).at(frame), 2)} px
          {word === 'break' && ' · the motion breaks before it'}
        </Text>
      </Text>
      {mark.until !== undefined && (
        <HStack gap="1.5" fontSize="small">
          <Text>rests here until frame</Text>
          <Box width="4.5rem" color="ink">
            <TextField
              label="Last frame of the rest"
              hideLabel
              value={String(mark.until)}
              inputMode="numeric"
              onCommit={(text) => {
                const until = Number(text)
                if (!/^\d+$/.test(text) || until < frame || until > last) return `${frame} to ${last}.`
                restFrom(session, id, frame, until)
                return null
              }}
            />
          </Box>
        </HStack>
      )}
      {!body.locked && (
        <>
          <BandButton label="Mark again from here" onClick={() => markAgainFrom(session, id, frame)} />
          <Box
            css={{
              '& button': { color: 'white' },
              '& button:hover, & button[aria-expanded=true]': { background: 'rgba(255,255,255,0.2)' },
            }}
          >
            <MoreMenu
              of="this mark"
              size="2xs"
              choices={[
                word === 'break'
                  ? { label: 'No break before it', act: () => sayBreak(session, id, frame, null) }
                  : {
                      label: 'The motion breaks before it',
                      act: () => sayBreak(session, id, frame, 'break'),
                    },
                mark.until !== undefined
                  ? { label: 'It does not rest here', act: () => restFrom(session, id, frame, frame) }
                  : last > frame && {
                      label: 'It rests here until the next mark',
                      act: () => restFrom(session, id, frame, last),
                    },
                { label: 'Clear from here on', grave: true, act: () => clearStretch(session, id, frame) },
                { label: 'Clear up to here', grave: true, act: () => clearStretch(session, id, 0, frame) },
                { label: 'Delete this mark', grave: true, act: () => deleteSelected(session) },
              ].filter((choice) => choice !== false)}
            />
          </Box>
        </>
      )}
    </>
  )
}
