import type { GraphFit } from '@apokinema/core/analysis'
import { doubtsOf, slowMotionHint } from '@apokinema/core/fitting'
import { edits } from '@apokinema/core/investigation'
import { fixed, significant } from '@apokinema/core/units'
import { doubtText } from '@apokinema/words/doubts'
import { Box, Button, HStack, Text } from '@chakra-ui/react'
import { type ReactNode, useMemo } from 'react'
import { v4 as uuid } from 'uuid'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { workbench } from '../workbenchStore.ts'
import { SCHOOL_G } from './gravity.ts'

/** Reasons to doubt a fit, each with an action that addresses it. */
export function Doubts({ shown }: { shown: GraphFit }) {
  const session = useSession()
  const { settings, range, refit, all } = shown
  const doubts = useMemo(
    () => (all.length > 0 ? doubtsOf(all, refit, range, settings) : []),
    [all, refit, range, settings],
  )
  return (
    <>
      {doubts.map((doubt) => (
        <Hint key={doubt.code} code={doubt.code} isMild={doubt.code === 'position'}>
          <Text fontSize="small">{doubtText(doubt)}</Text>
          {doubt.code === 'outlier' && (
            <HStack marginTop="1">
              <Button size="2xs" variant="outline" onClick={() => workbench.goTo(doubt.frame)}>
                See frame {doubt.frame}
              </Button>
              <Button
                size="2xs"
                variant="outline"
                onClick={() =>
                  session.edit(
                    `leave out frame ${doubt.frame}`,
                    edits.leaveOut(settings.stretch, [doubt.frame], true),
                  )
                }
              >
                Leave it out
              </Button>
            </HStack>
          )}
        </Hint>
      ))}
      <SlowMotion shown={shown} />
    </>
  )
}

function Hint({ code, isMild = false, children }: { code: string; isMild?: boolean; children: ReactNode }) {
  return (
    <Box
      borderLeft="3px solid"
      borderColor={isMild ? 'line' : 'saffron.text'}
      color={isMild ? 'ink.muted' : undefined}
      paddingLeft="3"
      marginTop="2"
      data-hint={code}
    >
      {children}
    </Box>
  )
}

/** An acceleration that looks like g in slow motion: what that means, and an action to correct it. */
function SlowMotion({ shown: { fit } }: { shown: GraphFit }) {
  const session = useSession()
  const investigation = useInvestigation()
  const hint = fit && slowMotionHint(investigation, fit)
  if (!hint) return null
  const { factor, captureRate } = hint
  return (
    <Hint code="slow-motion">
      <Text fontSize="small">
        This is near {fixed(SCHOOL_G, 2)} m/s² divided by {significant(factor, 3)}². Is the clip slow motion,
        captured at {captureRate} frames a second?
      </Text>
      <Button
        size="2xs"
        variant="outline"
        marginTop="1"
        onClick={() =>
          session.edit(
            'state the capture rate',
            edits.setCaptureRate(uuid(), { from: null, to: null, rate: captureRate, known: null }),
          )
        }
      >
        Captured at {captureRate} /s
      </Button>
    </Hint>
  )
}
