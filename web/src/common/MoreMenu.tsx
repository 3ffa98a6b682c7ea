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

/** Which choice a menu that opens is at: the mouse goes to one itself. */
export type OpenedAt = 'none' | 'first' | 'last'

const KEYS_THAT_OPEN: Record<string, OpenedAt> = {
  Enter: 'first',
  ' ': 'first',
  ArrowDown: 'first',
  ArrowUp: 'last',
}

/** Returns what a button that stands for a menu until it is asked for has in common with the menu's own. */
const asking = (ask: (at: OpenedAt) => void) =>
  ({
    'aria-haspopup': 'menu',
    'aria-expanded': false,
    onClick: () => ask('none'),
    onKeyDown: (event: KeyboardEvent) => {
      const at = KEYS_THAT_OPEN[event.key]
      if (!at) return
      event.preventDefault()
      ask(at)
    },
  }) as const

/** Actions on a thing, behind three dots. A page has many of them: until one is asked for, only its button is rendered. */
export function MoreMenu(menu: MoreMenuProps) {
  const [asked, setAsked] = useState<OpenedAt | null>(null)
  if (asked) return <AskedMenu {...menu} at={asked} />
  return <MoreButton of={menu.of} size={menu.size} {...asking(setAsked)} />
}

/**
 * A menu that opens when it is first rendered. A closing menu returns the focus to its button in the next frame, so an action runs
 * after that: a field that it opens would lose the focus at once.
 */
export function AskedMenu({ of, choices, size, at }: MoreMenuProps & { at: OpenedAt }) {
  const choose = (label: string) => {
    const act = choices.find((choice) => choice.label === label)?.act
    if (act) requestAnimationFrame(() => requestAnimationFrame(() => requestAnimationFrame(act)))
  }
  return (
    <Menu.Root
      defaultOpen
      defaultHighlightedValue={at === 'none' ? null : (choices.at(at === 'first' ? 0 : -1)?.label ?? null)}
      onSelect={({ value }) => choose(value)}
    >
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
export function RowMenu({ of, children }: { of: string; children: (at: OpenedAt) => ReactElement }) {
  const [asked, setAsked] = useState<OpenedAt | null>(null)
  if (asked) return children(asked)
  return <button type="button" aria-label={`More about ${of}`} {...asking(setAsked)} />
}
