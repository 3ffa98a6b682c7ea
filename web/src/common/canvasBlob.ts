/** Returns what a canvas shows as a picture file; null if the browser can't encode it. */
export const canvasBlob = (canvas: HTMLCanvasElement, type = 'image/png', quality?: number) =>
  new Promise<Blob | null>((resolve) => {
    canvas.toBlob(resolve, type, quality)
  })
