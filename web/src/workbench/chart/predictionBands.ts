import { openedState } from '../../document/openedState.ts'

/** Fits that are drawn with their prediction band. */
export const useBanded = openedState<{ fits: ReadonlySet<string> }>('prediction bands', { fits: new Set() })

/** Shows or hides the prediction band of a fit. */
export function drawBand(fit: string, isDrawn: boolean): void {
  const fits = new Set(useBanded.getState().fits)
  if (isDrawn) fits.add(fit)
  else fits.delete(fit)
  useBanded.setState({ fits })
}
