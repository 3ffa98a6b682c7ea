import { Box, Button, Dialog } from '@chakra-ui/react'
import { lazy, Suspense } from 'react'
import { Loading } from '../common/states.tsx'
import { Window } from '../common/Window.tsx'
import { showHelp, useHelp } from './helpStore.ts'

const HelpBook = lazy(() => import('./HelpBook.tsx'))

/** The button that opens help, and the window with it. */
export function Help() {
  const open = useHelp((state) => state.open)
  return (
    <>
      <Button
        size="sm"
        variant="outline"
        bg="panel"
        minWidth="8"
        paddingX={{ base: '2', md: '3' }}
        aria-label="Help and keys"
        title="Help (?)"
        onClick={() => showHelp()}
      >
        <Box as="span" display={{ base: 'none', md: 'inline' }}>
          Help
        </Box>
        <Box as="span" display={{ base: 'inline', md: 'none' }}>
          ?
        </Box>
      </Button>
      {open && (
        <Window
          title="Help"
          size="xl"
          height="min(46rem, 86vh)"
          open
          close={() => useHelp.setState({ open: false })}
        >
          <Dialog.Body padding="0" minHeight="0" borderTop="1px solid" borderColor="line" overflow="hidden">
            <Suspense fallback={<Loading text="Opening help …" />}>
              <HelpBook />
            </Suspense>
          </Dialog.Body>
        </Window>
      )}
    </>
  )
}
