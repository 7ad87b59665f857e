import { fieldCase, shootFieldCase } from '../test/fieldCases.ts'
import { locateFaults } from '../src/locate/index.ts'
import { compareTraces } from '../src/trace/index.ts'
for (const seed of process.argv.slice(2).map(Number)) {
  const f = fieldCase(seed); const s = shootFieldCase(f)
  console.log('=== seed', seed, f.kind, f.chainages.map(c=>c.toFixed(0)), JSON.stringify(f.damages), 'launch b/p', f.baseline.launch.toFixed(0), f.present.launch.toFixed(0))
  for (const shot of [...s.baseline, ...s.present]) {
    const a = shot.analysis
    console.log(shot.name, 'pulse m', (a.working.pulsePoints*a.trace.spacing).toFixed(0), 'sp', a.trace.spacing.toFixed(2), 'from', (a.working.from*a.trace.spacing).toFixed(0), 'resp', (a.working.response.middle/a.working.pulsePoints).toFixed(2), (a.working.response.settled/a.working.pulsePoints).toFixed(2), 'corr', a.working.noise.correlation.toFixed(0), 'n', a.trace.levels.length, a.warnings.map(w=>w.code).join())
    console.log('   ', a.events.map(e => `${e.kind[0]}${e.distance.toFixed(0)}±${e.distanceSigma.toFixed(1)}-${e.settled.toFixed(0)} L${e.loss?.toFixed(3)}±${e.lossSigma?.toFixed(3)} R${e.reflectance?.toFixed(0)}${e.saturated?'S':''}${e.extent>0?' x'+e.extent.toFixed(0):''}`).join(' | '))
  }
  for (let i=0;i<s.present.length;i++) {
    const c = compareTraces(s.baseline[i]!.analysis, s.present[i]!.analysis, s.baseline[i]!.launch! - s.present[i]!.launch!)
    console.log('cmp', s.present[i]!.name, 'off', c.alignment.offset.toFixed(1), '±', c.alignment.offsetSigma.toFixed(2), 'exp', (s.baseline[i]!.launch!-s.present[i]!.launch!).toFixed(1), c.changes.map(x=>`${x.kind} ${x.distance.toFixed(0)}±${x.distanceSigma.toFixed(1)} d${x.lossDelta?.toFixed(3)}±${x.lossDeltaSigma?.toFixed(3)} R${x.reflectanceBefore?.toFixed(0)}>${x.reflectanceAfter?.toFixed(0)}`).join(' | '))
  }
  const r = locateFaults({ plant: f.records, linkId: 'link', ...s })
  console.log('faults', r.faults.map(x=>`${x.chainage.toFixed(0)} [${x.interval95.map(v=>v.toFixed(0))}] ${JSON.stringify(x.loss)} b${x.breaks} r${x.reflects}`).join(' ; '), r.warnings.map(w=>w.code).join())
}
