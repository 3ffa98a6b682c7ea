import { openedState } from '../../document/openedState.ts'

/** Fits that are drawn with the band in which further points would lie. */
export const useBanded = openedState<{ fits: ReadonlySet<string> }>('prediction bands', { fits: new Set() })

/** Has the band of a fit drawn, or no more. */
export function drawBand(fit: string, isDrawn: boolean): void {
  const fits = new Set(useBanded.getState().fits)
  if (isDrawn) fits.add(fit)
  else fits.delete(fit)
  useBanded.setState({ fits })
}
