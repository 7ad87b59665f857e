import { fieldCase, shootFieldCase } from '/work/main/core/test/fieldCases.ts'
import { locateFaults } from '/work/main/core/src/locate/index.ts'
const [first, count, verbose] = process.argv.slice(2).map(Number)
let det=0, cov=0, falseF=0, errs=0, n=0
const misses: string[]=[]
const t0=performance.now(); let tA=0
const zs:number[]=[]
for (let seed=first!; seed<first!+count!; seed++){
  const f=fieldCase(seed)
  let r
  const ns=Math.round(f.present.settings.pulseWidth!*1e9)
  try { const s=shootFieldCase(f); const t=performance.now(); r=locateFaults({plant:f.records, linkId:'link', ...s}); tA+=performance.now()-t } catch(e){ errs++; console.log(seed,f.kind,ns,'ERROR',(e as Error).stack!.split('\n').slice(0,3).join('|')); continue }
  const pl=0.102*ns
  f.chainages.forEach((c,k)=>{
    n++
    const best=r.faults.toSorted((a,b)=>Math.abs(a.chainage-c)-Math.abs(b.chainage-c))[0]
    const ok=best && Math.abs(best.chainage-c)<30+2*pl
    if(!ok){ misses.push(`${seed} ${f.kind}#${k} ${ns}ns loss ${JSON.stringify(f.damages[k]!.loss)} brk ${f.damages[k]!.breaks} at ${c.toFixed(0)} best ${best?.chainage.toFixed(0)} of ${r.faults.length}`); return }
    det++
    const [lo,hi]=best.interval95
    const inside=lo-0.5<=c && c<=hi+0.5
    if(inside) cov++
    zs.push((best.chainage-c)/((hi-lo)/4+0.01))
    if(!inside||verbose) console.log(`${seed} ${f.kind} ${ns}ns sp ${f.present.settings.spacing!.toFixed(2)} err ${(best.chainage-c).toFixed(1)} int ${(hi-lo).toFixed(1)} node ${f.node} places ${JSON.stringify(best.places.slice(0,2))}`)
  })
  const extra=r.faults.filter(x=>!f.chainages.some(c=>Math.abs(x.chainage-c)<30+2*pl+(f.damages[0]?.extent??0)))
  if(extra.length){ falseF++; console.log(`  FALSE ${seed} ${f.kind} ${ns}ns base ${Math.round(f.baseline.settings.pulseWidth!*1e9)} ${f.present.instrument.pulseShape}/${f.baseline.instrument.pulseShape}`, extra.map(x=>`${x.chainage.toFixed(0)} ${JSON.stringify(x.loss)} r${x.reflects} b${x.breaks}`).join('; '), 'true', f.chainages.map(c=>c.toFixed(0)).join()) }
}
console.log(misses.map(m=>'MISS '+m).join('\n'))
console.log({n,det,cov,falseF,errs,locateMs:(tA/count!).toFixed(0), totalMs:((performance.now()-t0)/count!).toFixed(0)})
