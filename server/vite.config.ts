import { defineConfig } from 'vite'

/**
 * The server in few files, which starts in a fraction of the time that a thousand modules take. Packages stay where they are
 * installed, except one that consists of hundreds of modules.
 */
export default defineConfig({
  ssr: { noExternal: ['mathjs'] },
  build: {
    ssr: true,
    target: 'node20',
    sourcemap: true,
    rolldownOptions: {
      input: { main: 'src/main.ts', tasks: 'src/workers/tasks.worker.ts' },
      output: {
        // All in one folder, as far from the root as the sources are: paths are relative to the file that names them.
        chunkFileNames: '[name]-[hash].js',
        // The name that the entry of threads has where nothing is built.
        entryFileNames: ({ name }) => (name === 'tasks' ? 'tasks.mjs' : '[name].js'),
      },
    },
  },
})
