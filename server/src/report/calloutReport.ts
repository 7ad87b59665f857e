import type { SpliceEntry } from '@cold-thread/contract'
import { kindName } from '@cold-thread/core/kit'
import { SUSPICION_RULES, type Cause } from '@cold-thread/core/locate'
import {
  changeNear,
  totalHolds,
  totalName,
  judgeTrunk,
  judgeTrunkReference,
  type LoggedTrunk,
  continuitiesOf,
  judgeContinuity,
  receivedAgrees,
  REFERENCE_WORDS,
  referenceAt,
} from '@cold-thread/core/prove'
import { metres } from '@cold-thread/core/units'
import type { Content, TableCell } from 'pdfmake'
import type { TDocumentDefinitions } from 'pdfmake/interfaces.js'
import type { ReportEvidence } from './reportEvidence.ts'
import { clock, figure, HOLDS, pairs, spread, table, VERDICTS } from './blocks.ts'
import { everyFiber } from './everyFiber.ts'
import { traceChart } from './traceChart.ts'
import { workedAt } from './workedAt.ts'

export const PAPERS = ['A4', 'Letter'] as const
export type ReportPaper = (typeof PAPERS)[number]

const WAYS = ['ab', 'ba'] as const
/** With more fibers than these a heading may stand alone at a page's end: each that is moved lays the whole report out anew. */
const FEW_FIBERS = 100
/** A heading with the head of a table and its first row, points. */
const ROOM_FOR_HEAD = 76
const MARGIN = 48

/**
 * The report of a callout, summary first: what it came to and why, where, what was done, every figure before and after with
 * its limit, how it was measured, who signed what.
 */
export function calloutReport(evidence: ReportEvidence, paper: ReportPaper): TDocumentDefinitions {
  const { callout } = evidence
  return {
    pageSize: paper === 'A4' ? 'A4' : 'LETTER',
    pageMargins: [MARGIN, MARGIN, MARGIN, 56],
    info: { title: `${callout.title}, report`, subject: evidence.link.name },
    defaultStyle: { font: 'Text', fontSize: 9.5, lineHeight: 1.2 },
    styles: {
      title: { fontSize: 18, bold: true },
      verdict: { fontSize: 15, bold: true, margin: [0, 6, 0, 4] },
      head: { fontSize: 12, bold: true, margin: [0, 12, 0, 4] },
      small: { fontSize: 8, color: '#444444' },
      cell: { fontSize: 8.5 },
    },
    footer: (page, pages) => ({
      columns: [
        { text: `${callout.title}${callout.simulated ? ' (practice, simulated fault)' : ''}`, style: 'small' },
        { text: `page ${page} of ${pages}`, style: 'small', alignment: 'right' as const },
      ],
      margin: [MARGIN, 16, MARGIN, 0],
    }),
    ...((evidence.fibers?.shot ?? 0) <= FEW_FIBERS
      ? {
          pageBreakBefore: ({ style, startPosition: { top, pageInnerHeight } }) =>
            style === 'head' && MARGIN + pageInnerHeight - top < ROOM_FOR_HEAD,
        }
      : {}),
    content: readable([
      ...summary(evidence),
      ...work(evidence),
      ...beforeAndAfter(evidence),
      ...lossTests(evidence),
      ...trunks(evidence),
      ...receivedPower(evidence),
      ...continuity(evidence),
      ...everyFiber(evidence),
      ...whatIsLeft(evidence),
      ...charts(evidence),
      ...joints(evidence),
      ...means(evidence),
      ...signature(evidence),
    ]),
  }
}

function summary({ callout, link, plant, proof, signOff, located, log }: ReportEvidence): Content[] {
  const nameOf = (id: string) => plant.nodes.find((node) => node.id === id)?.name ?? id
  return [
    { text: callout.title, style: 'title' },
    { text: VERDICTS[proof.verdict], style: 'verdict' },
    { ul: [...proof.reasons] },
    ...(proof.next.length > 0
      ? [{ text: `Next: ${proof.next.join('; ')}`, margin: [0, 4, 0, 0] as [number, number, number, number] }]
      : []),
    { text: 'The callout', style: 'head' },
    pairs([
      ['Link', `${link.name}, ${nameOf(link.from)} to ${nameOf(link.to)}`],
      [
        'Circuits',
        link.circuits.map(({ name, priority }) => `${name} (priority ${priority})`).join(', ') || 'none recorded',
      ],
      ['Alarm', callout.alarm || 'none recorded'],
      ['Place', located ?? 'the fault was not shot'],
      ['Worked at', workedAt(log, plant).join(', ') || 'nothing was logged'],
      ['It was', signOff?.cause ? causeName(signOff.cause) : 'not known'],
      ['Opened', `${clock(callout.openedAt)}, ${callout.openedBy}`],
      ['Closed', callout.closedAt ? clock(callout.closedAt) : 'open'],
      [
        'Signed',
        signOff ? `${signOff.by}, ${clock(signOff.at)}${signOff.remark ? `: ${signOff.remark}` : ''}` : 'not signed',
      ],
    ]),
  ]
}

function work({ log, plant }: ReportEvidence): Content[] {
  const nameOf = (id: string) => plant.nodes.find((node) => node.id === id)?.name ?? id
  const lines = log.flatMap(({ entry, by, observedAt }): TableCell[][] => {
    const said = (words: string) => [[clock(observedAt), words, by]]
    switch (entry.kind) {
      case 'note':
        return said(`Note: ${entry.text}`)
      case 'cleaning':
        return said(
          `${nameOf(entry.node)} cleaned and inspected: ${entry.outcome}${entry.remark && `, ${entry.remark}`}`,
        )
      case 'sheet':
        return said(`Run sheet begun: ${entry.sheet.name}`)
      case 'splice-session':
        return said(
          `Splicing begun on ${entry.cable} at ${entry.node === null ? metres(entry.chainage) : nameOf(entry.node)}`,
        )
      case 'session-end':
        return said('Splicing ended, bin closed, mat taped')
      case 'end-face':
        return said(
          `End face at ${nameOf(entry.node)}, ${entry.side}: ${entry.overruled?.verdict ?? entry.verdict}${entry.overruled ? ` against “${entry.verdict}”: ${entry.overruled.reason}` : ''} (${entry.edition})`,
        )
      default:
        return []
    }
  })
  if (lines.length === 0) return []
  return [{ text: 'What was done', style: 'head' }, table(['When', 'What', 'By'], lines, ['auto', '*', 'auto'])]
}

function causeName(cause: Cause): string {
  return SUSPICION_RULES.causes.find((one) => one.cause === cause)?.name ?? cause
}

function whatIsLeft({ left }: ReportEvidence): Content[] {
  if (left.length === 0) return []
  return [{ text: 'What is left', style: 'head' }, { ul: left.map(({ what, because }) => `${what}: ${because}`) }]
}

function beforeAndAfter({ proof }: ReportEvidence): Content[] {
  return Object.entries(proof.total).flatMap(([wavelength, total]): Content[] => {
    const events = proof.events.filter((event) => event.wavelength === Number(wavelength))
    const rows = events.map((event): TableCell[] => [
      event.place,
      event.kind === 'event' ? 'new event' : event.node === null ? `${event.kind}, new` : event.kind,
      figure(event.lossBefore, 3),
      `${figure(event.lossAfter, 3)}${spread(event.lossSigma, 3)}${event.lossTwoWay === null && event.lossAfter !== null ? ' (one way)' : ''}`,
      `${event.limit.toFixed(2)} (${event.limitSource})`,
      figure(event.reflectanceAfter, 1),
      HOLDS[event.holds],
    ])
    rows.push([
      { text: totalName(total), bold: true },
      'total',
      figure(total.before, 2),
      `${figure(total.after, 2)}${spread(total.afterSigma, 2)}`,
      `${figure(total.allowed, 2)}${total.budget == null || total.budget === total.allowed ? '' : ` (budget ${total.budget.toFixed(2)})`}`,
      total.orlAfter == null ? '' : `ORL ${total.orlAfter.toFixed(1)}`,
      HOLDS[totalHolds(total)],
    ])
    return [
      { text: `Before and after at ${wavelength} nm, by traces`, style: 'head' },
      table(['Place', 'Kind', 'Before, dB', 'After, dB (k = 2)', 'Allowed, dB', 'Reflectance, dB', 'Verdict'], rows, [
        '*',
        'auto',
        'auto',
        'auto',
        'auto',
        'auto',
        'auto',
      ]),
    ]
  })
}

function lossTests({ losses, references, checks, turned, proof }: ReportEvidence): Content[] {
  if (references.length === 0)
    return [
      { text: 'Loss test by source and meter', style: 'head' },
      proof.events.length > 0 ? 'None was made: the losses above come from traces.' : 'None was made.',
    ]
  return [
    { text: 'Loss test by source and meter', style: 'head' },
    table(
      ['Link', 'nm', 'From', 'Loss, dB (k = 2)', 'Allowed, dB', 'Verdict and reason'],
      losses.map((one): TableCell[] => [
        one.name,
        String(one.wavelength),
        one.from,
        `${one.loss.toFixed(2)} ± ${(2 * one.sigma).toFixed(2)}`,
        figure(one.budget.allowed, 2),
        `${one.word}: ${one.reasons.join('; ')}`,
      ]),
      ['auto', 'auto', 'auto', 'auto', 'auto', '*'],
    ),
    ...checks.map(({ at, by, cord, wavelength, judgement }): Content => ({
      text: `Daily check ${clock(at)}, ${by}: ${cord || 'cord not named'}, ${wavelength} nm, ${judgement.word}: ${judgement.reasons.join('; ')}.`,
      style: 'small',
      margin: [0, 3, 0, 0],
    })),
    ...turned.map(({ at, by, what, words }): Content => ({
      text: `${what}, read both ways round ${clock(at)}, ${by}: ${words}.`,
      style: 'small',
      margin: [0, 3, 0, 0],
    })),
    ...references.map((reference): Content => {
      const last = reference.checks.at(-1)
      return {
        text: `Reference ${reference.method}, ${reference.wavelength} nm, ${reference.level.toFixed(2)} dBm, ${clock(reference.at)}, ${reference.by}; ${reference.cords || 'cords not named'}, ${reference.means.referenceGrade ? 'reference grade' : 'ordinary connectors'}${reference.means.encircledFlux === null ? '' : reference.means.encircledFlux ? ', encircled flux' : ', encircled flux not known'}. It counts ${REFERENCE_WORDS[reference.method].counts}. Last look: ${last ? `${last.level.toFixed(2)} dBm, ${referenceAt(reference, last.at)}` : 'none'}.`,
        style: 'small',
        margin: [0, 3, 0, 0],
      }
    }),
  ]
}

function trunks({ trunks: tests }: ReportEvidence): Content[] {
  return tests.flatMap((test): Content[] => {
    const judged = judgeTrunk(test)
    return [
      {
        text: `Trunk ${test.trunk}, ${test.end} end, ${test.wavelength} nm, polarity ${test.polarity}: ${judged.good ? 'every channel good' : 'not good'}`,
        style: 'head',
      },
      table(
        ['Channel', 'Out at', 'Loss, dB', 'Return loss, dB', 'Verdict and reason'],
        judged.channels.map(({ channel, word, reason }): TableCell[] => {
          const { at, loss, returnLoss } = test.channels[channel - 1]!
          return [
            String(channel),
            at === null ? '–' : at === 0 ? 'nowhere' : String(at),
            figure(loss, 2),
            figure(returnLoss, 1),
            `${word}: ${reason}`,
          ]
        }),
        ['auto', 'auto', 'auto', 'auto', '*'],
      ),
      {
        text: `${clock(test.at)}, ${test.by}${judged.polarity ? `; ${judged.polarity.words}` : ''}. ${trunkReferenceWords(test)}. Next: ${judged.next}.`,
        style: 'small',
        margin: [0, 3, 0, 0],
      },
    ]
  })
}

function trunkReferenceWords({ held }: LoggedTrunk): string {
  if (held === null) return 'The tester’s reference is not on record'
  const { reference, moved } = held
  const look =
    moved === null ? 'not looked at since' : moved.length === 0 ? 'looked at again: held' : 'looked at again: moved'
  return `Reference of ${clock(reference.at)}, ${reference.by}: ${judgeTrunkReference(reference).told}; ${look}`
}

function receivedPower({ received, proof, link, plant }: ReportEvidence): Content[] {
  const nameOf = (id: string) => plant.nodes.find((node) => node.id === id)?.name ?? id
  const lines = received.map((power) => {
    const change = changeNear(proof.total, power.wavelength)
    const words = change
      ? receivedAgrees(power, change).words
      : `${power.before.toFixed(1)} dBm before, ${power.after.toFixed(1)} dBm after; no traces of both times to hold it against`
    return `At ${nameOf(power.way === 'ab' ? link.to : link.from)}, ${power.wavelength} nm: ${words}`
  })
  return [
    { text: 'Received power', style: 'head' },
    ...(lines.length > 0 ? lines : ['Not compared: nobody entered what the receivers saw before and after.']),
  ]
}

function continuity({ log, link, plant }: ReportEvidence): Content[] {
  const nameOf = (id: string) => plant.links.find((one) => one.id === id)?.name ?? id
  const judged = judgeContinuity(link.id, continuitiesOf(log), nameOf)
  return [
    { text: 'Continuity', style: 'head' },
    ...(judged.length > 0
      ? judged.map(({ words }) => `${words[0]!.toUpperCase()}${words.slice(1)}.`)
      : ['Not checked: nobody entered where light came out.']),
  ]
}

function charts({ traces, plant, link }: ReportEvidence): Content[] {
  const nameOf = (id: string) => plant.nodes.find((node) => node.id === id)?.name ?? id
  const wavelengths = [...new Set(traces.map(({ record }) => record.facts.wavelength))].sort((a, b) => a - b)
  const drawn = wavelengths.flatMap((wavelength) =>
    WAYS.flatMap((way): Content[] => {
      const of = (role: 'baseline' | 'after') =>
        traces.find(
          ({ record }) => record.role === role && record.direction === way && record.facts.wavelength === wavelength,
        )
      const [before, after] = [of('baseline'), of('after')]
      const svg = traceChart(before, after)
      if (!svg) return []
      const from = nameOf(way === 'ab' ? link.from : link.to)
      const shown = [before && 'gray: baseline', after && 'dark: after the repair'].filter(Boolean).join(', ')
      return [
        { stack: [{ text: `${wavelength} nm from ${from} (${shown})`, style: 'small' }, { svg }], unbreakable: true },
      ]
    }),
  )
  return drawn.length === 0 ? [] : [{ text: 'Traces', style: 'head' }, ...drawn]
}

function joints({ log, plant }: ReportEvidence): Content[] {
  const nameOf = (id: string) => plant.nodes.find((node) => node.id === id)?.name ?? id
  const splices = log.flatMap(({ entry, by, observedAt }) =>
    entry.kind === 'splice' ? [{ entry: entry satisfies SpliceEntry, by, observedAt }] : [],
  )
  if (splices.length === 0) return []
  return [
    { text: 'Joints as made', style: 'head' },
    table(
      ['Place', 'Fiber', 'Try', 'Estimate, dB', 'Cleaves', 'Outcome', 'When, by'],
      splices.map(({ entry, by, observedAt }): TableCell[] => [
        entry.node === null ? metres(entry.chainage) : nameOf(entry.node),
        `${entry.cable} ${entry.fiber}${entry.mate && entry.mate.cable !== entry.cable ? ` to ${entry.mate.cable} ${entry.mate.fiber}` : ''}${entry.ribbon && entry.ribbon.length > 1 ? `, ribbon of ${entry.ribbon.length}` : ''}`,
        String(entry.attempt),
        figure(entry.estimate, 2),
        [entry.cleaveLeft, entry.cleaveRight]
          .map((angle) => (angle === null ? '–' : `${angle.toFixed(1)}°`))
          .join(', '),
        `${entry.outcome}${entry.remark && `: ${entry.remark}`}`,
        `${clock(observedAt)}, ${by}`,
      ]),
      ['auto', 'auto', 'auto', 'auto', 'auto', '*', 'auto'],
    ),
    { text: 'The splicer’s figure is an estimate; the two-way trace decides.', style: 'small', margin: [0, 3, 0, 0] },
  ]
}

function means({ instruments, traces, rules }: ReportEvidence): Content[] {
  const limits: [string, { value: number; source: string }, string][] = [
    ['new splice, good', rules.splice.good, 'dB'],
    ['new splice, most', rules.splice.limit, 'dB'],
    ['mated pair', rules.pair, 'dB'],
    ['untouched splice against its baseline', rules.repeatability.splice, 'dB'],
    ['untouched connector against its baseline', rules.repeatability.connector, 'dB'],
    ['single-mode reflectance, most', rules.reflectance.singleMode, 'dB'],
  ]
  return [
    { text: 'How it was measured', style: 'head' },
    ...(instruments.length === 0
      ? ['No instrument was named in the log.']
      : [
          table(
            ['Instrument', 'Calibrated until', 'Used'],
            instruments.map(({ kind, name, calibratedUntil, wear }): TableCell[] => [
              `${kindName(kind)} ${name}`,
              calibratedUntil ?? 'not recorded',
              wear ? `${wear.used} of ${wear.due} ${wear.unit}` : '',
            ]),
            ['*', 'auto', 'auto'],
          ),
        ]),
    ...(traces.length === 0
      ? []
      : [
          { text: 'Traces shown', style: 'small' as const, margin: [0, 6, 0, 2] as [number, number, number, number] },
          table(
            ['File', 'Taken', 'nm', 'Pulse, ns', 'Points', 'SHA-256'],
            traces.map(({ record }): TableCell[] => [
              `${record.fileName}${record.simulated ? ' (simulated)' : ''}`,
              clock(record.facts.takenAt),
              String(record.facts.wavelength),
              String(record.facts.pulseWidth),
              String(record.facts.points),
              record.sha256.slice(0, 16),
            ]),
            ['*', 'auto', 'auto', 'auto', 'auto', 'auto'],
          ),
        ]),
    { text: `Limits: rule book “${rules.name}”, version ${rules.version}`, style: 'head' },
    table(
      ['What', 'Limit', 'Source'],
      limits.map(([what, { value, source }, unit]): TableCell[] => [what, `${value} ${unit}`, source]),
      ['*', 'auto', '*'],
    ),
  ]
}

function signature({ signOff, evidence, callout }: ReportEvidence): Content[] {
  return [
    {
      stack: [
        { text: 'Signature', style: 'head' },
        signOff ? `${signOff.by}, ${clock(signOff.at)}` : 'Not signed: this report shows what is known until now.',
        { text: `Evidence, SHA-256: ${evidence}`, style: 'small' },
        ...(callout.simulated
          ? [{ text: 'A practice callout: its fault and traces are simulated.', style: 'small' as const }]
          : []),
      ],
      unbreakable: true,
    },
  ]
}

/** The font has no micro sign, for which “u” stands (ISO 2955, from memory), and no narrow space. */
function readable<T>(content: T): T {
  return JSON.parse(JSON.stringify(content).replaceAll(/[µμ]/g, 'u').replaceAll('\u202f', '\u00a0')) as T
}
