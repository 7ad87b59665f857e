// npm run bench:prove -- [repairs] [shift]: whether the verdict on simulated repairs, and what it names, is what is true of
// them, over fresh seeds; another shift takes other seeds. What is true is told here from what was put in.
import { proveRepair, ruleBook, type Proof, type ProofCause, type Verdict } from '../src/prove/index.ts'
import { LINK } from '../test/randomFault.ts'
import { REPAIR_KINDS, repairCase, shootRepair, type RepairCase } from '../test/repairCases.ts'

const repairs = Number(process.argv[2] ?? 300)
const shift = Number(process.argv[3] ?? 0)
const shown = process.argv[4] === 'all'
const { splice } = ruleBook('standard')

/** What has to be named of each kind; a repair that is well has nothing to be named. */
const NAMED: Partial<Record<RepairCase['kind'], ProofCause['cause']>> = {
  'poor joint': 'poor-joint',
  'wrong fiber': 'wrong-fiber',
  'fault left': 'fault-left',
  'second fault': 'second-fault',
  'closing bend': 'closing-bend',
  'dirty connector': 'connector-worse',
  'no baseline': 'poor-joint',
}

/** Combined standard uncertainty of what is wrong: of the events that were measured nearest to it. */
function uncertainty({ wrong }: RepairCase, proof: Proof): number {
  const node = wrong && 'node' in wrong.damage.at ? wrong.damage.at.node : null
  const sigmas = proof.events
    .filter((event) => (node === null ? event.node === null : event.node === node))
    .flatMap(({ lossSigma }) => (lossSigma === null ? [] : [lossSigma]))
  const totals = Object.values(proof.total).flatMap(({ afterSigma }) => (afterSigma === null ? [] : [afterSigma]))
  return Math.max(0.005, ...(sigmas.length > 0 ? sigmas : totals))
}

/** The verdicts that are true of a repair. */
function trueVerdicts(one: RepairCase, proof: Proof): readonly Verdict[] {
  const sigma = uncertainty(one, proof)
  if (!one.wrong) {
    // A joint near the good limit, noise that leaves one near its own, and no baseline are remarked on, and rightly.
    const noisy = proof.events.some(({ lossSigma }) => lossSigma !== null && 2 * lossSigma > 0.02)
    const good = one.joints.every((loss) => loss < splice.good.value - 2 * sigma)
    const accepted = good && !noisy && one.kind !== 'no baseline'
    return accepted ? ['restored'] : ['restored', 'restored-with-remarks']
  }
  if (one.wrong.loss < 2 * sigma) return ['restored', 'restored-with-remarks', 'cannot-tell']
  return Math.abs(one.wrong.loss - splice.limit.value) < 2 * sigma
    ? ['not-restored', 'restored-with-remarks', 'cannot-tell']
    : ['not-restored']
}

const rows = new Map<string, { all: number; right: number; named: number; said: Map<string, number> }>()
let falseRestored = 0
for (let i = 0; i < repairs; i++) {
  const one = repairCase(i + 1 + shift)
  const shots = shootRepair(one)
  const proof = proveRepair({
    plant: one.records,
    linkId: LINK,
    ...shots,
    work: { newJoints: one.newJoints, redone: one.redone, others: [] },
  })
  const truth = trueVerdicts(one, proof)
  const right = truth.includes(proof.verdict)
  const wanted = one.wrong ? NAMED[one.kind] : undefined
  const causes = proof.causes.map(({ cause }) => cause)
  const named = wanted === undefined ? causes.length === 0 : causes[0] === wanted
  if (proof.verdict === 'restored' && one.wrong && one.wrong.loss >= 2 * uncertainty(one, proof)) falseRestored++
  const row = rows.get(one.kind) ?? { all: 0, right: 0, named: 0, said: new Map<string, number>() }
  row.all++
  if (right) row.right++
  if (named) row.named++
  row.said.set(proof.verdict, (row.said.get(proof.verdict) ?? 0) + 1)
  rows.set(one.kind, row)
  if (shown && (!right || !named)) {
    const { pulseWidth } = one.surveys.after.settings
    console.log(
      `${one.seed} ${one.kind}, pulse ${(pulseWidth! * 1e9).toFixed(0)} ns, ${one.surveys.after.farScatter.toFixed(3)} dB: ${JSON.stringify(one.wrong ?? one.joints)}; fault ${JSON.stringify(one.fault)}; log ${one.newJoints.map((at) => at.toFixed(0)).join()} ${one.redone.join()}`,
    )
    console.log(
      `    ${proof.verdict}, wanted ${truth.join()}; named ${causes.join() || 'nothing'}, wanted ${wanted ?? 'nothing'}`,
    )
    for (const reason of proof.reasons) console.log(`    - ${reason}`)
  }
}
const all = [...rows.values()]
const sum = (pick: (row: (typeof all)[number]) => number) => all.reduce((total, row) => total + pick(row), 0)
const share = (part: number, whole: number) => `${((100 * part) / whole).toFixed(1)} %`
console.log(`${repairs} repairs, seeds from ${shift + 1}: verdict as it is, and what is wrong named first`)
for (const kind of REPAIR_KINDS) {
  const row = rows.get(kind)
  if (!row) continue
  const said = [...row.said].sort((a, b) => b[1] - a[1]).map(([verdict, n]) => `${verdict} ${n}`)
  console.log(
    `${kind.padEnd(16)} ${String(row.all).padStart(3)}  verdict ${share(row.right, row.all).padStart(7)}  named ${share(row.named, row.all).padStart(7)}  ${said.join(', ')}`,
  )
}
console.log(
  `all: verdict ${share(
    sum((row) => row.right),
    repairs,
  )}, named ${share(
    sum((row) => row.named),
    repairs,
  )}`,
)
console.log(`"restored" on a link whose fault is at least twice the combined uncertainty: ${falseRestored}`)
