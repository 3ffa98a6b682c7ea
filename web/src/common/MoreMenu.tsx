import { IconButton, type IconButtonProps, Menu, Portal } from '@chakra-ui/react'
import { EllipsisVertical } from 'lucide-react'
import { type KeyboardEvent, type ReactElement, useState } from 'react'

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

const KEYS_THAT_OPEN = ['ArrowDown', 'ArrowUp']

/** Returns what a button that stands for a menu until it is asked for has in common with the menu's own. */
const asking = (ask: () => void) =>
  ({
    'aria-haspopup': 'menu',
    'aria-expanded': false,
    onClick: ask,
    onKeyDown: (event: KeyboardEvent) => {
      if (!KEYS_THAT_OPEN.includes(event.key)) return
      event.preventDefault()
      ask()
    },
  }) as const

/** Actions on a thing, behind three dots. A page has many of them: until one is asked for, only its button is rendered. */
export function MoreMenu(menu: MoreMenuProps) {
  const [isAsked, setAsked] = useState(false)
  if (isAsked) return <AskedMenu {...menu} />
  return <MoreButton of={menu.of} size={menu.size} {...asking(() => setAsked(true))} />
}

/**
 * A menu that opens when it is first rendered. A closing menu returns the focus to its button in the next frame, so an action runs
 * after that: a field that it opens would lose the focus at once.
 */
export function AskedMenu({ of, choices, size }: MoreMenuProps) {
  const choose = (label: string) => {
    const act = choices.find((choice) => choice.label === label)?.act
    if (act) requestAnimationFrame(() => requestAnimationFrame(() => requestAnimationFrame(act)))
  }
  return (
    <Menu.Root defaultOpen onSelect={({ value }) => choose(value)}>
      <Menu.Trigger asChild>
        <MoreButton of={of} size={size} />
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

function MoreButton({ of, size, ...button }: Pick<MoreMenuProps, 'of' | 'size'> & IconButtonProps) {
  return (
    <IconButton size={size} variant="ghost" aria-label={`More about ${of}`} {...button}>
      <EllipsisVertical size={size === 'sm' ? 16 : 14} />
    </IconButton>
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
  return <button type="button" aria-label={`More about ${of}`} {...asking(() => setAsked(true))} />
}
