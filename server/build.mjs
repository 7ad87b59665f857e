// Bundles the server and its worker for production; packages from node_modules stay outside.
import { build } from 'esbuild'
import { fileURLToPath } from 'node:url'

const here = (path) => fileURLToPath(new URL(path, import.meta.url))

await build({
  entryPoints: [here('src/main.ts'), here('src/jobs/worker.ts')],
  outdir: here('dist'),
  entryNames: '[name]',
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  sourcemap: true,
  // With a module read both at once and later, the promise of no side effects lets esbuild leave out what sets its values.
  ignoreAnnotations: true,
  logLevel: 'warning',
  plugins: [
    {
      name: 'packages-outside',
      setup(builder) {
        // Own workspaces are TypeScript sources and are bundled; everything else is loaded at run time.
        builder.onResolve({ filter: /^[^./]/ }, (args) => {
          if (args.kind === 'entry-point' || args.path.startsWith('@cold-thread/')) return undefined
          return { path: args.path, external: true }
        })
      },
    },
  ],
})
