import { IconButton, Text } from '@chakra-ui/react'
import { SunMoon } from 'lucide-react'
import { Pop } from '../common/Pop.tsx'
import { Select } from '../common/Select.tsx'
import { TickBox } from '../common/TickBox.tsx'
import { chooseTheme, project, type Theme, useAppearance } from './appearance.ts'

const NAMES: readonly (readonly [Theme, string])[] = [
  ['system', 'Light or dark as on this machine'],
  ['light', 'Light'],
  ['dark', 'Dark'],
]

/** The button that opens how the pages look on this machine: light or dark, and larger for a projector. */
export function DisplayMenu() {
  const theme = useAppearance((now) => now.theme)
  const isProjected = useAppearance((now) => now.isProjected)
  return (
    <Pop
      placement="bottom-end"
      width="18rem"
      button={
        <IconButton
          size="sm"
          variant="ghost"
          aria-label="Display"
          title="Light, dark, or for the projector"
          hideBelow="sm"
        >
          <SunMoon size={18} />
        </IconButton>
      }
    >
      <Select label="Theme" value={theme} options={NAMES} choose={chooseTheme} />
      <TickBox on={isProjected} set={project}>
        For the projector
      </TickBox>
      <Text color="ink.muted" fontSize="small">
        Larger type and thicker lines. The columns at the sides fold away until they are opened.
      </Text>
    </Pop>
  )
}
