import { API, type ListedSeries } from '@apokinema/core/api'
import { Box, Center, Flex, Grid, Image, Stack, Text } from '@chakra-ui/react'
import { Film } from 'lucide-react'
import { Link } from 'react-router'
import { client } from '../api/client.ts'
import { useListMutation } from '../api/queries.ts'
import { MoreMenu } from '../common/MoreMenu.tsx'
import { notify } from '../common/messages.tsx'

const when = new Intl.DateTimeFormat('en-GB', { dateStyle: 'medium', timeStyle: 'short' })

/** A series in the list, with pictures of its first trials. */
export function SeriesCard({ item: { id, title, trials, count, updatedAt } }: { item: ListedSeries }) {
  const restore = useListMutation(() => client.restoreSeries(id))
  const remove = useListMutation(async () => {
    await client.removeSeries(id)
    notify(`The series “${title}” was deleted. Its investigations are still there.`, {
      label: 'Undo',
      onClick: restore,
    })
  })
  return (
    <Box
      position="relative"
      bg="panel"
      border="1px solid"
      borderColor="line"
      borderRadius="10px"
      overflow="hidden"
      data-series-card
    >
      <Link to={`/series/${id}`} aria-label={`Open ${title}`}>
        <Grid templateColumns="1fr 1fr" gap="2px" height="146px" bg="stage">
          {trials.map((trial) => (
            <Center
              key={trial.id}
              overflow="hidden"
              color="whiteAlpha.600"
              gridColumn={trials.length === 1 ? 'span 2' : undefined}
            >
              {trial.poster ? (
                <Image
                  src={API.poster(trial.id, trial.poster)}
                  alt=""
                  width="100%"
                  height="100%"
                  objectFit="cover"
                />
              ) : (
                <Film size={22} aria-hidden />
              )}
            </Center>
          ))}
        </Grid>
      </Link>
      <Flex padding="3" paddingRight="1" gap="1" align="flex-start">
        <Stack gap="0" flex="1" minWidth="0">
          <Text fontWeight="600" truncate asChild>
            <Link to={`/series/${id}`} title={title}>
              {title}
            </Link>
          </Text>
          <Text fontSize="small" color="ink.muted">
            series, {count === 1 ? '1 trial' : `${count} trials`}
          </Text>
          <Text fontSize="small" color="ink.muted">
            {when.format(new Date(updatedAt))}
          </Text>
        </Stack>
        <MoreMenu of={title} size="sm" choices={[{ label: 'Delete', grave: true, act: remove }]} />
      </Flex>
    </Box>
  )
}
