import { API } from '@apokinema/core/api'
import { Box, Button, Grid, Heading, Image, Stack, Text, VisuallyHidden } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import type { ReactNode } from 'react'
import { samplesQuery } from '../api/queries.ts'
import { createSeriesFromSamples } from '../series/createSeries.ts'
import { createFromSample } from './create.ts'
import { type Enter, investigationAt, seriesAt } from './enter.ts'

/** The samples, each with a picture and a description; those that belong together after the single ones. */
export function Samples({ busy, enter }: { busy: boolean; enter: Enter }) {
  const { data } = useQuery(samplesQuery)
  return (
    <Box as="section" marginTop="8">
      <Heading as="h2" fontSize="title" fontWeight="600" marginBottom="4">
        Samples from the harbour fair
      </Heading>
      <SampleGrid>
        {data?.samples.map((sample) => (
          <SampleButton
            key={sample.id}
            kind="Sample"
            picture={sample.id}
            {...sample}
            busy={busy}
            open={() =>
              void enter(`Opening the sample ${sample.title} …`, () =>
                investigationAt(createFromSample(sample)),
              )
            }
          />
        ))}
      </SampleGrid>
      <Heading as="h3" fontSize="body" fontWeight="600" marginTop="6" marginBottom="3">
        The same again and again: samples with several trials
      </Heading>
      <SampleGrid>
        {data?.series.map((sample) => (
          <SampleButton
            key={sample.id}
            kind="Series"
            picture={sample.trials[0].id}
            {...sample}
            busy={busy}
            open={() =>
              void enter(`Opening ${sample.title} …`, () => seriesAt(createSeriesFromSamples(sample)))
            }
          />
        ))}
      </SampleGrid>
    </Box>
  )
}

function SampleGrid({ children }: { children: ReactNode }) {
  return (
    <Grid templateColumns="repeat(auto-fill, minmax(240px, 1fr))" gap="4">
      {children}
    </Grid>
  )
}

function SampleButton(props: {
  kind: string
  /** Id of the sample whose picture is shown. */
  picture: string
  title: string
  about: string
  busy: boolean
  open: () => void
}) {
  const { kind, picture, title, about, busy, open } = props
  return (
    <Button
      variant="outline"
      height="auto"
      padding="0"
      overflow="hidden"
      bg="panel"
      justifyContent="flex-start"
      alignItems="stretch"
      textAlign="left"
      disabled={busy}
      onClick={open}
    >
      <Image
        src={API.samplePoster(picture)}
        alt=""
        width="92px"
        minHeight="92px"
        flex="none"
        objectFit="cover"
        objectPosition="center 40%"
      />
      <Stack gap="0" paddingY="2" paddingRight="3" minWidth="0">
        <Text whiteSpace="normal" lineHeight="1.3">
          <VisuallyHidden>{kind}: </VisuallyHidden>
          {title}
        </Text>
        <Text fontWeight="400" fontSize="small" color="ink.muted" whiteSpace="normal" lineHeight="1.35">
          {about}
        </Text>
      </Stack>
    </Button>
  )
}
