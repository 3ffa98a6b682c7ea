import { useNavigate } from 'react-router'
import { notify } from '../common/messages.tsx'
import { startGuide } from './guide.ts'
import { useHelp } from './helpStore.ts'

/** Returns a function that begins the guided first measurement in a new investigation, or says why it could not. */
export function useStartGuide(): () => Promise<void> {
  const navigate = useNavigate()
  return async () => {
    try {
      const address = await startGuide()
      useHelp.setState({ open: false })
      await navigate(address)
    } catch {
      notify('The net float could not be opened: the server does not answer. Try again in a moment.')
    }
  }
}
