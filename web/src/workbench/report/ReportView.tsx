import type { Investigation } from '@apokinema/core/investigation'
import { Box, Flex, HStack } from '@chakra-ui/react'
import { useEditorState } from '@tiptap/react'
import { useCallback, useEffect, useRef, useState } from 'react'
import { useIsWide } from '../../common/useIsWide.ts'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { showHelp } from '../../help/helpStore.ts'
import { SideColumn } from '../SideColumn.tsx'
import { ChangedBlocks } from './ChangedBlocks.tsx'
import { focusFirstGap } from './editor/insert.ts'
import { selectedBlock } from './editor/selectedBlock.ts'
import { undoByKey, useReportEditor } from './editor/useReportEditor.ts'
import { InsertMenu } from './InsertMenu.tsx'
import { Paper } from './Paper.tsx'
import { PutIn } from './PutIn.tsx'
import { ReportStyles } from './ReportStyles.tsx'
import { Sheet } from './Sheet.tsx'
import { BlockSettings } from './settings/BlockSettings.tsx'
import { PageSettings } from './settings/PageSettings.tsx'
import { ShownProvider, useShownStore } from './shownBlocks.ts'
import { TemplateChoice } from './TemplateChoice.tsx'
import { TextTools } from './TextTools.tsx'

/** The write-up: what can be put in on the left, the page in the middle, the settings of the chosen block on the right. */
export default function ReportView() {
  const session = useSession()
  const shown = useShownStore()
  const paper = useInvestigation(({ report }) => report.paper)
  const header = useInvestigation(headerOf)
  const hasBlocks = useInvestigation(({ report }) => Object.keys(report.blocks).length > 0)
  const { editor, writing } = useReportEditor()
  const selected = useEditorState({
    editor,
    selector: ({ editor: now }) => now && selectedBlock(now.state.selection),
  })
  const [isEmptyKept, keepEmpty] = useState(false)
  const isEmpty = !hasBlocks && !isEmptyKept
  const begins = useRef(false)
  useEffect(() => {
    if (isEmpty || !editor || !begins.current) return
    begins.current = false
    focusFirstGap(editor)
  }, [isEmpty, editor])
  const isWide = useIsWide()
  const pressKey = useCallback(
    (event: KeyboardEvent) => {
      if (event.key === '?') showHelp()
      else undoByKey(session, writing, event)
    },
    [session, writing],
  )
  useEffect(() => {
    // Where nothing has the focus, keys reach the body only.
    const onKeyDown = (event: KeyboardEvent) => event.target === document.body && pressKey(event)
    window.addEventListener('keydown', onKeyDown)
    return () => window.removeEventListener('keydown', onKeyDown)
  }, [pressKey])
  const settings = (
    <>
      {selected && <BlockSettings key={selected} id={selected} writing={writing} />}
      <PageSettings writing={writing} />
    </>
  )
  return (
    <ShownProvider value={shown}>
      <ReportStyles paper={paper} header={header} />
      <Flex
        height="100%"
        direction={{ base: 'column', lg: 'row' }}
        overflow="hidden"
        data-report
        onKeyDown={(event) => {
          const target = event.target as HTMLElement
          if (event.key === 'Escape' && target.closest('aside')) editor?.view.focus()
          if (!target.closest('[contenteditable=true],input,textarea')) pressKey(event.nativeEvent)
        }}
      >
        {isWide && (
          <SideColumn label="Put in" side="left" width="14.25rem" narrow="11.875rem">
            <ChangedBlocks />
            <PutIn writing={writing} />
          </SideColumn>
        )}
        <Flex as="main" flex="1" minWidth="0" minHeight="0" direction="column">
          {editor && !isEmpty && <TextTools editor={editor} />}
          <Box flex="1" minHeight="0" overflow="auto" bg="desk" className="desk">
            {isEmpty ? (
              <TemplateChoice
                session={session}
                done={() => {
                  keepEmpty(true)
                  begins.current = true
                }}
              />
            ) : (
              editor && <Paper editor={editor} />
            )}
          </Box>
        </Flex>
        {isWide ? (
          <SideColumn label="Settings" side="right" width="15.625rem" narrow="13.5rem">
            {settings}
          </SideColumn>
        ) : (
          <HStack className="tools" padding="2" bg="paper" borderTop="1px solid" borderColor="line">
            <Sheet label="Put in">
              {(close) => (
                <>
                  <ChangedBlocks />
                  <PutIn writing={writing} done={close} />
                </>
              )}
            </Sheet>
            <Sheet label="Settings">{() => settings}</Sheet>
          </HStack>
        )}
      </Flex>
      {editor && <InsertMenu editor={editor} />}
    </ShownProvider>
  )
}

/** Returns what stands above every page but the first. */
const headerOf = ({ title, report }: Investigation) =>
  [report.title || title, report.author, report.date].filter((part) => part !== '').join(' · ')
