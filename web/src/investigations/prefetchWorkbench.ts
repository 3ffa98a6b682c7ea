/** Preloads the workbench's code. */
export function prefetchWorkbench(): void {
  import('../workbench/WorkbenchPage.tsx').catch(() => {})
}
