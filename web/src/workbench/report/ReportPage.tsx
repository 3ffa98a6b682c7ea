import type { Report } from '@apokinema/core/investigation'
import { Box, Flex, HStack } from '@chakra-ui/react'
import { useEditorState } from '@tiptap/react'
import { useCallback, useEffect, useRef, useState } from 'react'
import { useIsWide } from '../../common/useIsWide.ts'
import { TYPED_IN, undoByKey } from '../../document/undoByKey.ts'
import { showHelp } from '../../help/helpStore.ts'
import { SideColumn } from '../SideColumn.tsx'
import { ChangedBlocks } from './ChangedBlocks.tsx'
import { focusFirstGap } from './editor/insert.ts'
import { selectedBlock } from './editor/selectedBlock.ts'
import { useReportEditor } from './editor/useReportEditor.ts'
import { InsertMenu } from './InsertMenu.tsx'
import { Paper } from './Paper.tsx'
import { PutIn } from './PutIn.tsx'
import { ReportStyles } from './ReportStyles.tsx'
import { Sheet } from './Sheet.tsx'
import { BlockSettings } from './settings/BlockSettings.tsx'
import { PageSettings } from './settings/PageSettings.tsx'
import { ShownProvider, useShownStore } from './shownBlocks.ts'
import { useDocumentTitle, useIsEmpty, useReport, useSource } from './source.ts'
import { TemplateChoice } from './TemplateChoice.tsx'
import { TextTools } from './TextTools.tsx'

/** The write-up: what can be put in on the left, the page in the middle, the settings of the chosen block on the right. */
export function ReportPage() {
  const { session } = useSource()
  const shown = useShownStore()
  const paper = useReport((report) => report.paper)
  const documentTitle = useDocumentTitle()
  const header = useReport((report) => headerOf(report, documentTitle))
  const hasNoBlocks = useIsEmpty()
  const { editor, writing } = useReportEditor()
  const selected = useEditorState({
    editor,
    selector: ({ editor: now }) => now && selectedBlock(now.state.selection),
  })
  const [isEmptyKept, keepEmpty] = useState(false)
  const isEmpty = hasNoBlocks && !isEmptyKept
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
      else undoByKey(session, event, () => writing.commit())
    },
    [session, writing],
  )
  useEffect(() => {
    // Where nothing of the report has the focus, keys reach the window only.
    const onKeyDown = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement
      if (!target.closest(`[data-report],${TYPED_IN}`)) pressKey(event)
    }
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
          if (!target.closest(TYPED_IN)) pressKey(event.nativeEvent)
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
const headerOf = ({ title, author, date }: Report, documentTitle: string) =>
  [title || documentTitle, author, date].filter((part) => part !== '').join(' · ')
