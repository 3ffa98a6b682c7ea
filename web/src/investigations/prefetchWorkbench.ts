/** Fetches the workbench's code ahead, so that it is there once an investigation is. */
export function prefetchWorkbench(): void {
  import('../workbench/WorkbenchPage.tsx').catch(() => {})
}
