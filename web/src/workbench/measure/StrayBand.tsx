import { edits } from '@apokinema/core/investigation'
import { fixed } from '@apokinema/core/units'
import { Flex, Text } from '@chakra-ui/react'
import { useInvestigation, useSession } from '../../document/SessionContext.tsx'
import { goToNextStray, useCourseOf } from '../courses.ts'
import { deleteSelected } from '../selecting.ts'
import { useWorkbench } from '../workbenchStore.ts'
import { BandButton } from './BandButton.tsx'

/** Above the stage while a mark is selected that lies off the course of the others: what that means, and what to do. */
export function StrayBand() {
  const session = useSession()
  const { bodies } = useInvestigation()
  const selection = useWorkbench((state) => state.selection)
  const mark = selection?.kind === 'mark' ? selection : null
  const course = useCourseOf(mark?.body ?? null)
  const stray = course.strays.find(({ frame }) => frame === mark?.frame)
  if (!mark || !stray) return null
  const others = course.strays.length - 1
  const button = (label: string, act: () => void) => <BandButton label={label} onClick={act} />
  return (
    <Flex
      position="absolute"
      insetX="0"
      top="0"
      minHeight="9"
      align="center"
      gap="3"
      paddingX="4"
      paddingY="1"
      bg="rgba(24,29,31,0.88)"
      color="white"
      flexWrap="wrap"
      data-stray={stray.frame}
      onPointerDown={(event) => event.stopPropagation()}
    >
      <Text flex="1" minWidth="14rem" role="status">
        This mark of <b>{bodies[mark.body].name}</b> lies{' '}
        {stray.size > 99 ? 'more than 99' : fixed(stray.size, 0)} standard errors off the course of those
        around it. Drag it where it belongs, or:
      </Text>
      {button('It is right', () =>
        session.edit(`confirm the mark in frame ${mark.frame}`, edits.confirmMark(mark.body, mark.frame)),
      )}
      {button('Delete it', () => deleteSelected(session))}
      {others > 0 && button(`Next of ${others} more`, () => goToNextStray(mark.body, course, mark.frame))}
    </Flex>
  )
}
