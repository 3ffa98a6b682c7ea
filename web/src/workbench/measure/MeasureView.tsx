import { Box, Flex } from '@chakra-ui/react'
import { useCallback, useRef } from 'react'
import { Deferred, useSessionState } from '../../document/SessionContext.tsx'
import { showHelp } from '../../help/helpStore.ts'
import { useFullScreen } from '../fullScreen.ts'
import { ProposalSearch } from '../proposals/useBodyProposals.ts'
import { SideColumn } from '../SideColumn.tsx'
import { Strip } from '../strip/Strip.tsx'
import { useSurveying } from '../survey/useSurvey.ts'
import { useKeys } from '../useKeys.ts'
import { marks, useWorkbench } from '../workbenchStore.ts'
import { Stage } from './Stage.tsx'
import { SetUp } from './setUp/SetUp.tsx'

/** Set-up, stage and strip. */
export function MeasureView() {
  const hasFootage = useSessionState(({ document }) => document.footage !== null)
  const isAlone = useFullScreen(({ on }) => on)
  const isMarking = useWorkbench(({ mode }) => marks(mode))
  const zoom = useRef<(factor: number) => void>(() => {})
  const zoomBy = useCallback((factor: number) => zoom.current(factor), [])
  useKeys({ zoomBy, showHelp })
  useSurveying()

  return (
    <Flex direction="column" height="100%">
      <ProposalSearch />
      <Flex flex="1" minHeight="0" direction={{ base: 'column-reverse', lg: 'row' }}>
        {hasFootage && !isAlone && (
          <SideColumn
            label="Set-up"
            side="left"
            width="17rem"
            // Of one height, so that the picture stays where it is from sheet to sheet.
            height={{ base: '34%', lg: 'auto' }}
            overflowY={{ base: 'auto', lg: 'hidden' }}
          >
            <Deferred when={isMarking}>
              <SetUp />
            </Deferred>
          </SideColumn>
        )}
        <Box flex="1" minWidth="0" minHeight="0" bg="stage">
          <Stage zoomRef={zoom} />
        </Box>
      </Flex>
      {hasFootage && (
        <Deferred when={isMarking}>
          <Strip />
        </Deferred>
      )}
    </Flex>
  )
}
