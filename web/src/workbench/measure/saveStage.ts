import { fileNameOf } from '@apokinema/core/formats'
import { canvasBlob } from '../../common/canvasBlob.ts'
import { notify } from '../../common/messages.tsx'
import { saveFile } from '../../common/saveFile.ts'
import { LIGHT_PALETTE } from '../../theme/palettes.ts'
import { useWorkbench } from '../workbenchStore.ts'

/** Saves the stage as a PNG: the frame's picture with its overlays. */
export async function saveStage(title: string): Promise<void> {
  const stage = document.querySelector<HTMLElement>('[data-stage]')
  const layers = stage ? [...stage.querySelectorAll('canvas')].filter((layer) => layer.width > 0) : []
  if (!stage || layers.length === 0) {
    notify('There is no picture yet.')
    return
  }
  const box = stage.getBoundingClientRect()
  const fine = Math.max(...layers.map((layer) => layer.width / layer.getBoundingClientRect().width))
  const canvas = document.createElement('canvas')
  canvas.width = Math.round(fine * box.width)
  canvas.height = Math.round(fine * box.height)
  const context = canvas.getContext('2d')!
  context.fillStyle = LIGHT_PALETTE.stage
  context.fillRect(0, 0, canvas.width, canvas.height)
  for (const layer of layers) {
    const at = layer.getBoundingClientRect()
    const [x, y] = [fine * (at.left - box.left), fine * (at.top - box.top)]
    context.drawImage(layer, x, y, fine * at.width, fine * at.height)
  }
  const blob = await canvasBlob(canvas)
  const { frame } = useWorkbench.getState()
  if (blob) saveFile(blob, fileNameOf({ title: `${title}, frame ${frame}` }, 'png'))
}
