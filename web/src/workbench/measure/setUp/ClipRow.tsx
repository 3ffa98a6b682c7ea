import { edits } from '@apokinema/core/investigation'
import { clockOf } from '@apokinema/core/scene'
import { fixed, withUnit } from '@apokinema/core/units'
import { HStack, IconButton, Slider, Text } from '@chakra-ui/react'
import { FlipHorizontal2, RotateCcw, RotateCw } from 'lucide-react'
import { useInvestigation, useSession } from '../../../document/SessionContext.tsx'
import { NO_ADJUSTMENT, useDisplayAdjustment } from '../../displayAdjust.ts'
import { useFlags } from '../../useFlags.ts'
import { Facts } from './Facts.tsx'
import { rateText } from './FrameTimesRow.tsx'
import { SetUpRow } from './SetUpRow.tsx'

const TURNS = [
  { turn: 'left', label: 'Turn the picture left', icon: RotateCcw },
  { turn: 'right', label: 'Turn the picture right', icon: RotateCw },
  { turn: 'mirror', label: 'Mirror the picture left to right', icon: FlipHorizontal2 },
] as const

/** The file, its orientation, and its display. */
export function ClipRow() {
  const session = useSession()
  const investigation = useInvestigation()
  const { footage, timing } = investigation
  const flags = useFlags()
  const { name, width, height, size, converted } = footage!
  return (
    <SetUpRow
      state="done"
      label={name}
      value={rateText(clockOf(investigation)!, timing.constantRate, flags.length)}
    >
      <Facts
        rows={[
          ['file', name],
          ['picture', `${width} × ${height} px`],
          ['size', withUnit(fixed(size / 1e6, 2), 'MB')],
        ]}
      />
      {converted && (
        <Text fontSize="small" color="ink.muted" marginTop="1">
          Converted so that browsers can show it, frame for frame; the original is kept.
        </Text>
      )}
      <HStack gap="1" marginTop="2">
        {TURNS.map(({ turn, label, icon: Icon }) => (
          <IconButton
            key={turn}
            size="xs"
            variant="outline"
            aria-label={label}
            title={`${label}; marks and axes turn along`}
            onClick={() => session.edit(label.toLowerCase(), edits.turnPicture(turn))}
          >
            <Icon size={15} />
          </IconButton>
        ))}
      </HStack>
      <Light />
    </SetUpRow>
  )
}

/** Brightness and contrast of the display; no number depends on them. */
function Light() {
  const { look, setLook } = useDisplayAdjustment()
  const slider = (key: 'brightness' | 'contrast', label: string) => (
    <Slider.Root
      size="sm"
      colorPalette="brand"
      min={0.4}
      max={3}
      step={0.05}
      value={[look[key]]}
      onValueChange={({ value }) => setLook({ ...look, [key]: value[0] })}
      marginTop="2"
    >
      <HStack justify="space-between">
        <Slider.Label fontSize="small" color="ink.muted" fontWeight="400">
          {label}
        </Slider.Label>
        <Slider.ValueText fontFamily="mono" fontSize="small" color="ink.muted">
          {fixed(100 * look[key], 0)} %
        </Slider.ValueText>
      </HStack>
      <Slider.Control>
        <Slider.Track>
          <Slider.Range />
        </Slider.Track>
        <Slider.Thumbs />
      </Slider.Control>
    </Slider.Root>
  )
  const changed = look.brightness !== 1 || look.contrast !== 1
  return (
    <>
      {slider('brightness', 'Brightness on screen')}
      {slider('contrast', 'Contrast on screen')}
      {changed && (
        <Text
          as="button"
          fontSize="small"
          color="petrol"
          textDecoration="underline"
          onClick={() => setLook(NO_ADJUSTMENT)}
        >
          As recorded
        </Text>
      )}
    </>
  )
}
