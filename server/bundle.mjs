// Bundles entries of the server; packages from node_modules stay outside.
import { build } from 'esbuild'
import { fileURLToPath } from 'node:url'

/**
 * @param names of entries in src, without their ending
 * @param folder where the bundles go, each under the last part of its name
 */
export async function bundle(names, folder) {
  await build({
    entryPoints: names.map((name) => fileURLToPath(new URL(`src/${name}.ts`, import.meta.url))),
    outdir: folder,
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
}
