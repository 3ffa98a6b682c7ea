import { IconButton, Menu, Portal } from '@chakra-ui/react'
import { EllipsisVertical } from 'lucide-react'
import { type ReactElement, useState } from 'react'

export interface MenuChoice {
  label: string
  /** Set for an action that deletes something. */
  grave?: boolean
  act: () => void
}

interface MoreMenuProps {
  of: string
  choices: MenuChoice[]
  size: '2xs' | 'sm'
}

/**
 * Actions on a thing, behind three dots. A closing menu returns the focus to its button in the next frame,
 * so an action runs after that: a field that it opens would lose the focus at once.
 */
export function MoreMenu({
  of,
  choices,
  size,
  isOpenFirst = false,
}: MoreMenuProps & { isOpenFirst?: boolean }) {
  const choose = (label: string) => {
    const act = choices.find((choice) => choice.label === label)?.act
    if (act) requestAnimationFrame(() => requestAnimationFrame(() => requestAnimationFrame(act)))
  }
  return (
    <Menu.Root defaultOpen={isOpenFirst} onSelect={({ value }) => choose(value)}>
      <Menu.Trigger asChild>
        <IconButton size={size} variant="ghost" aria-label={`More about ${of}`}>
          <EllipsisVertical size={size === 'sm' ? 16 : 14} />
        </IconButton>
      </Menu.Trigger>
      <Portal>
        <Menu.Positioner>
          <Menu.Content>
            {choices.map(({ label, grave }) => (
              <Menu.Item key={label} value={label} color={grave ? 'alarm' : undefined}>
                {label}
              </Menu.Item>
            ))}
          </Menu.Content>
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  )
}

/**
 * The button of one of many rows that opens a menu: until it is pressed it is an empty button, which is rendered much faster, and
 * looks as the rows style it.
 *
 * @param children the menu, which is rendered from then on
 */
export function RowMenu({ of, children }: { of: string; children: ReactElement }) {
  const [isAsked, setAsked] = useState(false)
  if (isAsked) return children
  return (
    <button
      type="button"
      aria-haspopup="menu"
      aria-expanded="false"
      aria-label={`More about ${of}`}
      onClick={() => setAsked(true)}
    />
  )
}
