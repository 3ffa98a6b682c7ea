import { HStack } from '@chakra-ui/react'
import { type Camera, PRACTICE_CAMERA } from './cameras.ts'
import { Select } from './RecordParts.tsx'
import type { CameraSettings } from './useCamera.ts'

const SIZES = [
  { name: '640 × 480', width: 640, height: 480 },
  { name: '1280 × 720', width: 1280, height: 720 },
  { name: '1920 × 1080', width: 1920, height: 1080 },
]
const RATES = [30, 60, 120]

export const DEFAULT_SETTINGS: CameraSettings = { width: 1280, height: 720, rate: 30 }

/** The camera, and the settings that it is asked for. */
export function CameraChoice(props: {
  cameras: readonly Camera[]
  camera: Camera | null
  settings: CameraSettings
  disabled: boolean
  onCamera: (camera: Camera | null) => void
  onSettings: (settings: CameraSettings) => void
}) {
  const { cameras, camera, settings, disabled, onCamera, onSettings } = props
  return (
    <>
      <Select
        label="Camera"
        value={camera?.id ?? ''}
        disabled={disabled}
        choices={[
          ...(camera ? [] : [{ value: '', name: 'Choose …' }]),
          ...cameras.map(({ id, name }) => ({ value: id, name })),
        ]}
        onChange={(id) => onCamera(cameras.find((candidate) => candidate.id === id) ?? null)}
      />
      <HStack align="start">
        <Select
          label="Picture"
          value={SIZES.find(({ width }) => width === settings.width)!.name}
          disabled={disabled || camera?.id === PRACTICE_CAMERA.id}
          choices={SIZES.map(({ name }) => ({ value: name, name }))}
          onChange={(chosen) => {
            const { width, height } = SIZES.find(({ name }) => name === chosen)!
            onSettings({ ...settings, width, height })
          }}
        />
        <Select
          label="Frames a second"
          value={String(settings.rate)}
          disabled={disabled}
          choices={RATES.map((value) => ({ value: String(value), name: String(value) }))}
          onChange={(value) => onSettings({ ...settings, rate: Number(value) })}
        />
      </HStack>
    </>
  )
}
