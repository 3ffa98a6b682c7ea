import type { Plugin, Rolldown } from 'vite'

/** Modules whose code an address needs at once: by its first part, and by the view that it names. */
const MODULES: Record<string, string[]> = {
  investigations: ['workbench/WorkbenchPage.tsx'],
  'investigations/graphs': ['workbench/WorkbenchPage.tsx', 'workbench/graphs/GraphsView.tsx'],
  'investigations/report': ['workbench/WorkbenchPage.tsx', 'workbench/report/investigation/ReportView.tsx'],
  series: ['series/SeriesPage.tsx'],
  'series/report': ['series/SeriesPage.tsx', 'series/report/SeriesReport.tsx'],
}

/**
 * Writes `preloads.json`, which the server puts into the page: for each kind of address the files that its code is in, beside
 * those that every page loads. Otherwise the browser would learn of them only when it runs the code that all pages share.
 */
export function preloads(): Plugin {
  return {
    name: 'preloads',
    apply: 'build',
    generateBundle(_, bundle) {
      const chunks = Object.values(bundle).filter((one) => one.type === 'chunk')
      const withImports = (file: string, found = new Set<string>()): Set<string> => {
        const chunk = chunks.find(({ fileName }) => fileName === file)
        if (found.has(file) || !chunk) return found
        found.add(file)
        for (const imported of chunk.imports) withImports(imported, found)
        return found
      }
      const shared = withImports(fileOf(chunks, 'main.tsx', ({ isEntry }) => isEntry))
      const files = Object.entries(MODULES).map(([address, modules]) => {
        const needed = new Set(modules.flatMap((module) => [...withImports(fileOf(chunks, module))]))
        return [address, [...needed].filter((file) => !shared.has(file)).map((file) => `/${file}`)]
      })
      this.emitFile({
        type: 'asset',
        fileName: 'preloads.json',
        source: JSON.stringify(Object.fromEntries(files)),
      })
    },
  }
}

/** Returns the file of a module that begins one. */
function fileOf(
  chunks: readonly Rolldown.OutputChunk[],
  module: string,
  isIt = ({ facadeModuleId }: Rolldown.OutputChunk) => Boolean(facadeModuleId?.endsWith(`/src/${module}`)),
): string {
  const chunk = chunks.find(isIt)
  if (!chunk) throw new Error(`No file begins with ${module}.`)
  return chunk.fileName
}
