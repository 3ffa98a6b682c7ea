import { type CalibrationPart, edits, type Lock as Locked } from '@apokinema/core/investigation'
import { HStack, IconButton } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { Eye, EyeOff, Lock, LockOpen } from 'lucide-react'
import { memo } from 'react'
import { limitsQuery } from '../../../../api/queries.ts'
import { useInvestigation, useSession } from '../../../../document/SessionContext.tsx'
import { BehindMore } from '../Question.tsx'

const NAMES: Record<CalibrationPart, string> = { scale: 'the scale', axes: 'the axes' }

/** Locks a part of the calibration, and hides it on the picture. */
export function PartActions({ part }: { part: CalibrationPart }) {
  const { locks, hidden } = useInvestigation()
  return (
    <BehindMore isInUse={locks[part] !== null || hidden[part]}>
      <Actions part={part} lock={locks[part]} hidden={hidden[part]} />
    </BehindMore>
  )
}

/** Renders when its buttons change, not with every mark. */
const Actions = memo(function Actions({
  part,
  lock,
  hidden,
}: {
  part: CalibrationPart
  lock: Locked | null
  hidden: boolean
}) {
  const session = useSession()
  const { data: limits } = useQuery(limitsQuery)
  const me = limits?.person
  const button = (label: string, icon: React.ReactNode, pressed: boolean, onClick: () => void) => (
    <IconButton
      size="2xs"
      variant="ghost"
      aria-label={label}
      title={label}
      aria-pressed={pressed}
      color={pressed ? 'petrol' : 'ink.muted'}
      onClick={onClick}
    >
      {icon}
    </IconButton>
  )
  return (
    <HStack gap="0">
      {button(
        hidden ? `Show ${NAMES[part]} on the picture` : `Hide ${NAMES[part]} on the picture`,
        hidden ? <EyeOff size={15} /> : <Eye size={15} />,
        hidden,
        () => session.edit(`${hidden ? 'show' : 'hide'} ${NAMES[part]}`, edits.setHidden(part, !hidden)),
      )}
      {button(
        lock ? `Unlock ${NAMES[part]} (locked by ${lock.name})` : `Lock ${NAMES[part]}`,
        lock ? <Lock size={15} /> : <LockOpen size={15} />,
        lock !== null,
        () => {
          if (lock) session.edit(`unlock ${NAMES[part]}`, edits.setLock(part, null))
          else if (me) session.edit(`lock ${NAMES[part]}`, edits.setLock(part, { by: me.id, name: me.name }))
        },
      )}
    </HStack>
  )
})
