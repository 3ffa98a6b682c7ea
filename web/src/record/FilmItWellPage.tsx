import { Box, Button, Grid, Heading, HStack, Text } from '@chakra-ui/react'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { PageHeader } from '../common/PageHeader.tsx'
import { COLOUR } from '../theme/palettes.ts'

const SEA = '#9DB9C0'
const QUAY = '#B7AD9A'
const RED = '#B1412F'

/** A small scene: sea and quay, with its children in front. */
function Scene({ good, children, sky = '#E3E7E3' }: { good: boolean; children: ReactNode; sky?: string }) {
  return (
    <svg viewBox="0 0 120 90" width="100%" role="img" aria-label={good ? 'like this' : 'not like this'}>
      <rect width="120" height="90" fill={sky} />
      <rect y="48" width="120" height="18" fill={SEA} />
      <rect y="64" width="120" height="26" fill={QUAY} />
      {children}
      <circle cx="108" cy="12" r="8" fill={good ? '#1E9E6A' : RED} />
      <path
        d={good ? 'M104 12l3 3 5-6' : 'M105 9l6 6m0-6l-6 6'}
        stroke="#fff"
        strokeWidth="2"
        fill="none"
        strokeLinecap="round"
      />
    </svg>
  )
}

/** A banded staff. */
const Staff = ({ x, foot, height, wide = 4 }: { x: number; foot: number; height: number; wide?: number }) => (
  <g>
    <rect x={x} y={foot - height} width={wide} height={height} fill="#F1ECDD" />
    {[0, 2, 4].map((band) => (
      <rect
        key={band}
        x={x}
        y={foot - height + (band * height) / 6}
        width={wide}
        height={height / 6}
        fill={RED}
      />
    ))}
  </g>
)

/** A thrown ball at several instants. */
const Throw = ({
  points,
  r = 3,
  fill = COLOUR.ink,
}: {
  points: [number, number][]
  r?: number
  fill?: string
}) => (
  <g fill={fill}>
    {points.map(([x, y]) => (
      <circle key={x} cx={x} cy={y} r={r} />
    ))}
  </g>
)

const ARC: [number, number][] = [
  [14, 66],
  [30, 42],
  [46, 30],
  [62, 30],
  [78, 42],
  [94, 66],
]

interface Tip {
  title: string
  text: string
  poor: ReactNode
  good: ReactNode
}

const TIPS: Tip[] = [
  {
    title: 'Hold it level and still',
    text: 'Lean the camera on a wall, a crate or a tripod, and line the horizon up with the grid. A camera that sways puts its own motion into every number.',
    poor: (
      <Scene good={false}>
        <g transform="rotate(9 60 45)">
          <rect x="-20" y="46" width="160" height="4" fill="#7F9CA4" />
          <Staff x={80} foot={78} height={44} />
        </g>
        <Throw points={ARC} />
      </Scene>
    ),
    good: (
      <Scene good>
        <Staff x={100} foot={78} height={44} />
        <Throw points={ARC} />
      </Scene>
    ),
  },
  {
    title: 'Look at it square on',
    text: 'The plane in which it moves must face the camera. Seen from the side, the far end of the motion is drawn smaller than the near one.',
    poor: (
      <Scene good={false}>
        <path d="M10 84 L110 60" stroke={COLOUR.ink} strokeDasharray="3 3" />
        <Throw
          points={[
            [20, 60],
            [40, 40],
            [58, 36],
            [74, 40],
            [88, 48],
            [100, 56],
          ]}
          r={2.4}
        />
        <Staff x={14} foot={84} height={50} />
        <Staff x={102} foot={64} height={20} wide={2.4} />
      </Scene>
    ),
    good: (
      <Scene good>
        <path d="M10 78 L110 78" stroke={COLOUR.ink} strokeDasharray="3 3" />
        <Throw points={ARC} />
        <Staff x={8} foot={78} height={40} />
        <Staff x={106} foot={78} height={40} />
      </Scene>
    ),
  },
  {
    title: 'Put a known length where it moves',
    text: 'A staff, a metre rule or a crate that you have measured, as far from the camera as the motion and in the picture all the time. One that is nearer makes everything seem smaller.',
    poor: (
      <Scene good={false}>
        <Throw points={ARC} />
        <Staff x={14} foot={92} height={80} wide={9} />
      </Scene>
    ),
    good: (
      <Scene good>
        <Throw points={ARC} />
        <Staff x={104} foot={74} height={44} />
      </Scene>
    ),
  },
  {
    title: 'Let it stand out',
    text: 'A bright body before something dark, or the other way round. A plain background is easier to mark on, and can be followed by itself.',
    poor: (
      <Scene good={false} sky="#CFCDBF">
        <Throw points={ARC} fill="#C4C0B0" />
      </Scene>
    ),
    good: (
      <Scene good sky="#CFCDBF">
        <Throw points={ARC} fill={RED} />
      </Scene>
    ),
  },
  {
    title: 'Give it light',
    text: 'In bright light the shutter opens for a shorter time, and a fast body is a point and not a streak. Film outdoors, or near a window.',
    poor: (
      <Scene good={false} sky="#6F7B80">
        <g stroke={COLOUR.ink} strokeWidth="6" strokeLinecap="round" opacity="0.5">
          <path d="M18 62l10-18M44 33l14-4M74 38l12 14" />
        </g>
      </Scene>
    ),
    good: (
      <Scene good sky="#F1EDDC">
        <circle cx="16" cy="14" r="9" fill="#E8C766" />
        <Throw points={ARC} />
      </Scene>
    ),
  },
  {
    title: 'Fix the frame rate',
    text: 'Choose 60 frames a second or more and switch off what changes it in dim light. Slow motion is fine: say its capture rate afterwards. Send the original file, not one from a messenger.',
    poor: (
      <Scene good={false}>
        <Throw
          points={[
            [14, 66],
            [22, 53],
            [62, 30],
            [66, 32],
            [94, 66],
          ]}
        />
      </Scene>
    ),
    good: (
      <Scene good>
        <Throw
          points={Array.from({ length: 11 }, (_, i): [number, number] => [
            14 + 8 * i,
            66 - 36 * (1 - ((i - 5) / 5) ** 2),
          ])}
          r={2.2}
        />
      </Scene>
    ),
  },
  {
    title: 'Step back and zoom in',
    text: 'From far away, zoomed in, lines of sight are nearly parallel: depth and the edges of the lens distort less. Then let the motion fill most of the picture.',
    poor: (
      <Scene good={false}>
        <path d="M60 92 L8 40M60 92 L112 40" stroke={COLOUR.petrol} strokeDasharray="3 3" />
        <Throw
          points={[
            [20, 66],
            [36, 40],
            [60, 30],
            [84, 40],
            [100, 66],
          ]}
          r={4}
        />
      </Scene>
    ),
    good: (
      <Scene good>
        <path d="M52 92 L40 36M68 92 L80 36" stroke={COLOUR.petrol} strokeDasharray="3 3" />
        <Throw
          points={[
            [36, 64],
            [46, 46],
            [60, 38],
            [74, 46],
            [84, 64],
          ]}
          r={3}
        />
      </Scene>
    ),
  },
  {
    title: 'Film several throws',
    text: 'One clip with three or five throws costs a minute and shows how much a result varies by itself. Wait a second between them: each becomes a trial.',
    poor: (
      <Scene good={false}>
        <Throw points={ARC} r={2.4} />
      </Scene>
    ),
    good: (
      <Scene good>
        {[0, 9, 18].map((shift) => (
          <Throw
            key={shift}
            points={ARC.map(([x, y]) => [x * 0.8 + shift + 2, y + shift / 4])}
            r={2}
            fill={['#E0533D', '#1E9E6A', '#7A69E0'][shift / 9]}
          />
        ))}
      </Scene>
    ),
  },
]

/** Advice on filming, as eight pairs of pictures. */
export function FilmItWellPage() {
  return (
    <Box minHeight="100%">
      <PageHeader title="Film it well" />
      <Box as="main" maxWidth="72rem" marginX="auto" padding={{ base: '4', md: '8' }}>
        <Heading as="h1" fontSize="title" fontWeight="600">
          A minute of care when filming saves ten when measuring
        </Heading>
        <Grid
          as="ul"
          listStyleType="none"
          templateColumns="repeat(auto-fill, minmax(300px, 1fr))"
          gap="8"
          marginTop="6"
        >
          {TIPS.map(({ title, text, poor, good }) => (
            <Box as="li" key={title}>
              <Grid
                templateColumns="1fr 1fr"
                gap="1"
                borderRadius="10px"
                overflow="hidden"
                aria-hidden="true"
              >
                {poor}
                {good}
              </Grid>
              <Heading as="h2" fontSize="lead" fontWeight="600" marginTop="2">
                {title}
              </Heading>
              <Text color="ink.muted">{text}</Text>
            </Box>
          ))}
        </Grid>
        <HStack marginTop="8" gap="3">
          <Button colorPalette="brand" asChild>
            <Link to="/record">Record</Link>
          </Button>
          <Button variant="outline" bg="panel" asChild>
            <Link to="/">Choose a video</Link>
          </Button>
        </HStack>
      </Box>
    </Box>
  )
}
