// npm run bench:end-face -- [pictures] [shift]: how often the grade of a generated end face agrees with what was drawn, over
// fresh seeds; another shift takes other seeds. What was drawn is graded here from its own figures, by code of its own.
import { endFaceRule, judgeEndFace, type ConnectorClass, type EndFaceVerdict } from '../src/endFace/index.ts'
import { blurWidthOf, drawEndFace, type EndFaceScene } from '../src/sim/index.ts'
import { chanceScene } from './endFaceScenes.ts'

const pictures = Number(process.argv[2] ?? 500)
const shift = Number(process.argv[3] ?? 0)
const shown = process.argv[4] === 'all'

interface Drawn {
  scratch: boolean
  size: number
  inner: number
  outer: number
  /** µm within a distance from the center. */
  lengthIn(from: number, to: number): number
}

function drawnOf(scene: EndFaceScene): Drawn[] {
  const scratches = scene.scratches.map(({ x1, y1, x2, y2, width }): Drawn => {
    const at = Array.from({ length: 2001 }, (_, i) =>
      Math.hypot(x1 + ((x2 - x1) * i) / 2000, y1 + ((y2 - y1) * i) / 2000),
    )
    const length = Math.hypot(x2 - x1, y2 - y1)
    return {
      scratch: true,
      size: width,
      inner: Math.max(0, Math.min(...at) - width / 2),
      outer: Math.max(...at),
      lengthIn: (from, to) => (length * at.filter((r) => r >= from && r <= to).length) / at.length,
    }
  })
  const defects = scene.defects.map(({ x, y, size }): Drawn => {
    const r = Math.hypot(x, y)
    return { scratch: false, size, inner: Math.max(0, r - size / 2), outer: r + size / 2, lengthIn: () => 0 }
  })
  // What is one shape counts once, as large as the circle around it, and with all that it surrounds.
  const joined = [
    ...(scene.rings ?? []).map(({ x, y, radius, uneven, width }) => {
      const [r, most] = [Math.hypot(x, y), radius * (1 + uneven) + width / 2]
      return { size: 2 * most, inner: Math.max(0, r - radius * (1 + uneven) - width / 2), outer: r + most }
    }),
    ...(scene.cracks ?? []).map(({ places }) => {
      const at = places.slice(1).flatMap(([x, y], i) =>
        Array.from({ length: 50 }, (_, k) => {
          const [x1, y1] = places[i]!
          return Math.hypot(x1 + ((x - x1) * k) / 49, y1 + ((y - y1) * k) / 49)
        }),
      )
      const [[x1, y1], [x2, y2]] = [places[0]!, places.at(-1)!]
      return { size: Math.hypot(x2 - x1, y2 - y1), inner: Math.min(...at), outer: Math.max(...at) }
    }),
  ].map((one): Drawn => ({ scratch: false, lengthIn: () => 0, ...one }))
  return [...scratches, ...defects, ...joined]
}

/** By the two tables of the handbook's kind, from figures that are exactly known. */
function trueVerdict(drawn: readonly Drawn[], multimode: boolean): 'pass' | 'fail' {
  const [core, widestA, widestB, contact] = multimode ? [32.5, 3, 5, 20] : [12.5, 0, 3, 10]
  let [inA, inB] = [0, 0]
  for (const one of drawn) {
    if (one.scratch) {
      if (one.inner < core && one.size > widestA && (multimode || one.lengthIn(0, core) > 0)) return 'fail'
      if (one.inner < 60 && one.outer > core && one.size > widestB) return 'fail'
    } else if (one.inner < core) {
      if (!multimode || one.size > 5) return 'fail'
      inA++
    } else if (one.inner < 60) {
      if (one.size > 5) return 'fail'
      if (one.size >= 2) inB++
    } else if (one.inner >= 65 && one.inner < 125 && one.size >= contact) return 'fail'
  }
  return inA > 4 || inB > 5 ? 'fail' : 'pass'
}

/** Whether any of it lies so near to a limit, or to a zone's border, that the blur could turn the verdict. */
function isNear(drawn: readonly Drawn[], multimode: boolean, blur: number): boolean {
  const verdict = trueVerdict(drawn, multimode)
  const moved = (one: Drawn, bySize: number, byPlace: number): Drawn[] => {
    const size = one.size + bySize
    // A defect as small as the blur may not be there at all.
    if (!one.scratch && size <= 0) return []
    const lengthIn = (from: number, to: number) => Math.max(0, one.lengthIn(from - byPlace, to - byPlace) + 2 * bySize)
    return [
      {
        ...one,
        size: Math.max(0, size),
        inner: Math.max(0, one.inner + byPlace),
        outer: one.outer + byPlace,
        lengthIn,
      },
    ]
  }
  const steps = [-blur, 0, blur]
  for (const bySize of steps) {
    for (const byPlace of steps) {
      if (
        trueVerdict(
          drawn.flatMap((one) => moved(one, bySize, byPlace)),
          multimode,
        ) !== verdict
      )
        return true
      for (const [k] of drawn.entries()) {
        const changed = drawn.flatMap((one, i) => (i === k ? moved(one, bySize, byPlace) : [one]))
        if (trueVerdict(changed, multimode) !== verdict) return true
      }
    }
  }
  return false
}

const tally = new Map<string, number>()
const count = (key: string) => tally.set(key, (tally.get(key) ?? 0) + 1)
const times: number[] = []
let [far, right, near, nearClose, nearWrong] = [0, 0, 0, 0, 0]
for (let i = 0; i < pictures; i++) {
  const multimode = i % 3 === 2
  const connector: ConnectorClass = multimode ? 'multimode PC' : 'single-mode PC'
  const scene = chanceScene(7919 * (i + 1) + shift, multimode ? 'multimode' : 'single-mode')
  const picture = drawEndFace(scene, 104_729 * (i + 1) + shift)
  const drawn = drawnOf(scene)
  const truth = trueVerdict(drawn, multimode)
  const close = isNear(drawn, multimode, blurWidthOf(scene))
  const begun = performance.now()
  let said: EndFaceVerdict | 'refused'
  let why: string
  try {
    const view = judgeEndFace(picture, connector)
    said = view.grade.verdict
    why = `${view.grade.reasons.join('; ')} | blur ${view.fiber.blur.width.toFixed(2)} of ${blurWidthOf(scene).toFixed(2)}`
  } catch (error) {
    said = 'refused'
    why = String(error)
  }
  times.push(performance.now() - begun)
  count(`${close ? 'near a limit' : `far, ${truth}`} → ${said}`)
  if (close) {
    near++
    if (said === 'close') nearClose++
    else if (said !== truth) nearWrong++
  } else {
    far++
    if (said === truth) right++
  }
  if (shown && (close ? said !== 'close' && said !== truth : said !== truth)) {
    const things = drawn.map(
      ({ scratch, size, inner, outer }) =>
        `${scratch ? 'S' : 'D'}${size.toFixed(1)}@${inner.toFixed(0)}-${outer.toFixed(0)}`,
    )
    console.log(
      `${i} ${connector} ${close ? 'NEAR' : 'FAR'} drawn ${truth}, said ${said}: ${why}\n    ${things.join(' ')}`,
    )
  }
}
times.sort((a, b) => a - b)
console.log(`${pictures} pictures, ${endFaceRule('single-mode PC')!.edition}`)
for (const [key, n] of [...tally].sort()) console.log(`${key.padEnd(28)} ${n}`)
console.log(
  `at least a blur's width from every limit: ${far}, of them right ${right} (${((100 * right) / far).toFixed(1)} %)`,
)
console.log(
  `nearer: ${near}, of them close ${nearClose} (${((100 * nearClose) / near).toFixed(1)} %), against what was drawn ${nearWrong}`,
)
console.log(
  `time per picture: median ${times[Math.floor(times.length / 2)]!.toFixed(0)} ms, longest ${times.at(-1)!.toFixed(0)} ms`,
)
