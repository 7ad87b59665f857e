// No file imports itself by way of others, types included: a circle is one thing in several files, or several in one.
module.exports = {
  forbidden: [
    {
      name: 'no-circle',
      comment: 'Move what both need into a file that needs neither.',
      severity: 'error',
      from: {},
      to: { circular: true },
    },
  ],
  options: {
    // Imports of types alone count too.
    tsPreCompilationDeps: true,
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)(dist|node_modules)/' },
    enhancedResolveOptions: { exportsFields: ['exports'], conditionNames: ['import', 'default'] },
  },
}
