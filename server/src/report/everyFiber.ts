import { placeOfFiber, placeInWords, ranges, whyNotFound } from '@cold-thread/core/fiber'
import type { FiberProof, Verdict } from '@cold-thread/core/prove'
import type { Content, TableCell } from 'pdfmake'
import { figure, spread, table, VERDICTS } from './blocks.ts'
import type { ReportEvidence } from './reportEvidence.ts'

const ORDER: readonly Verdict[] = ['not-restored', 'cannot-tell', 'restored-with-remarks', 'restored']

/** The other fibers of the cable: how many are what, why those are not restored that are not, then every figure. */
export function everyFiber({ fibers, plant }: ReportEvidence): Content[] {
  if (!fibers) return []
  const head: Content = { text: `Every fiber of cable ${fibers.cable}`, style: 'head' }
  if (!fibers.proof) return [head, `${fibers.shot} fibers were shot after the repair and are not judged yet.`]
  const { proof } = fibers
  const cable = plant.cables.find(({ id }) => id === proof.cable)
  const lies = (fiber: number) => (cable && whyNotFound(cable) === null ? placeInWords(placeOfFiber(cable, fiber)) : '')
  const named = (some: readonly FiberProof[]) => ranges(some.map(({ fiber }) => fiber))
  const counts = ORDER.flatMap((verdict) => {
    const some = proof.fibers.filter((one) => one.verdict === verdict)
    if (some.length === 0) return []
    return [`${some.length} ${VERDICTS[verdict].toLowerCase()}${verdict === 'restored' ? '' : `: ${named(some)}`}`]
  })
  const bad = proof.fibers.filter(({ verdict }) => verdict === 'not-restored' || verdict === 'cannot-tell')
  return [
    head,
    `${counts.join('; ')}.${proof.missing.length > 0 ? ` Not shot: ${ranges(proof.missing)}.` : ''}`,
    ...(bad.length === 0
      ? []
      : [
          {
            ul: bad.map(({ fiber, reasons }) => `Fiber ${fiber}, ${lies(fiber)}: ${reasons.join('; ')}`),
            margin: [0, 4, 0, 4] as [number, number, number, number],
          },
        ]),
    table(
      [
        'Fiber',
        'nm',
        'Before, dB',
        'After, dB (k = 2)',
        'Allowed, dB',
        'Joint with the least left, dB of dB',
        'Verdict',
      ],
      proof.fibers.flatMap((one) => rowsOf(one)),
      ['auto', 'auto', 'auto', 'auto', 'auto', '*', 'auto'],
    ),
  ]
}

function rowsOf({ fiber, totals, verdict }: FiberProof): TableCell[][] {
  if (totals.length === 0) return [[String(fiber), '', '–', '–', '–', '', VERDICTS[verdict]]]
  return totals.map(({ wavelength, before, after, afterSigma, allowed, worst }, k): TableCell[] => [
    k === 0 ? String(fiber) : '',
    String(wavelength),
    figure(before, 2),
    `${figure(after, 2)}${spread(afterSigma, 2)}`,
    figure(allowed, 2),
    worst ? `${worst.place}: ${worst.is.toFixed(2)} of ${worst.allowed.toFixed(2)}` : '',
    k === 0 ? VERDICTS[verdict] : '',
  ])
}
