import { LEFT, repairedFiles, SURVEY } from '@cold-thread/demo'
import { cableProofRecord, verdictRecord, type CableProofRecord } from '@cold-thread/contract'
import type { CableProof } from '@cold-thread/core/prove'
import { strFromU8, unzipSync } from 'fflate'
import { v7 as uuidv7 } from 'uuid'
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest'
import { caller, startTestServer, UNTIL_JUDGED, type TestServer } from './test/index.ts'
import { readReport } from './test/readReport.ts'

describe('every fiber of a cable after the repair', () => {
  let server: TestServer
  const calloutId = uuidv7()
  const fibers = [29, 30, LEFT.poor, 32, 33, LEFT.open, 35, 36]
  const files = repairedFiles(new Date('2026-03-01T09:10:00Z'), fibers, [1550])

  const call = caller(() => server, 'technician')
  const address = `/api/callouts/${calloutId}/cable-proof`
  /** Asked again until all fibers are judged, as the page does. */
  const judged = async (): Promise<CableProofRecord> => {
    return vi.waitFor(async () => {
      const record = cableProofRecord.parse((await call('GET', address)).body)
      expect(record.done).toBe(record.of)
      return record
    }, UNTIL_JUDGED)
  }

  beforeAll(async () => {
    server = await startTestServer()
    await call('PUT', `/api/callouts/${calloutId}`, {
      linkId: SURVEY.linkId,
      title: 'One tube spliced',
      alarm: '',
      practiceSeed: null,
    })
  })
  afterAll(() => server.close())

  it('is nothing before a fiber was shot', async () => {
    expect((await call('GET', address)).body).toBeNull()
  })

  it('names the fiber with the poor joint and the one that nobody joined, and no other', async () => {
    for (const { fileName, fiber, direction, content } of files) {
      const query = `fileName=${fileName}&fiber=${fiber}&direction=${direction}&role=after&launchCord=500&receiveCord=500`
      const reply = await call('PUT', `/api/callouts/${calloutId}/survey/${uuidv7()}?${query}`, Buffer.from(content))
      expect(reply.status).toBe(200)
    }
    const { of, proof } = await judged()
    expect(of).toBe(fibers.length)
    const bad = proof.fibers.filter(({ verdict }) => verdict === 'not-restored')
    expect(bad.map(({ fiber }) => fiber)).toEqual([LEFT.poor, LEFT.open])
    expect(bad[0]!.reasons.join()).toContain('Weir closure')
    // Without a baseline of its own a fiber is judged by limits, and that is said.
    const good = proof.fibers.filter(({ fiber }) => fiber !== LEFT.poor && fiber !== LEFT.open)
    for (const { verdict, reasons, totals } of good) {
      expect(verdict).toBe('restored-with-remarks')
      expect(reasons).toContain('there is no baseline: judged by limits only')
      expect(totals).toHaveLength(1)
      expect(totals[0]!.after).toBeGreaterThan(1)
    }
    expect(proof.missing).toHaveLength(SURVEY.fiberCount - fibers.length)
  })

  it('is not mixed with a survey of the cable while the fault was there', async () => {
    expect((await call('GET', `/api/callouts/${calloutId}/survey`)).body).toBeNull()
  })

  it('stands in the verdict of the callout’s own link, and under its signature', async () => {
    const { proof, evidence } = verdictRecord.parse((await call('GET', `/api/callouts/${calloutId}/verdict`)).body)
    expect(proof.reasons).toContain(`fibers ${LEFT.poor}, ${LEFT.open} of cable TN-4: not restored`)
    const again = files.find(({ fiber, direction }) => fiber === 35 && direction === 'ab')!
    const query = `fileName=again.sor&fiber=${LEFT.poor}&direction=ab&role=after&launchCord=500&receiveCord=500`
    await call('PUT', `/api/callouts/${calloutId}/survey/${uuidv7()}?${query}`, Buffer.from(again.content))
    const later = verdictRecord.parse((await call('GET', `/api/callouts/${calloutId}/verdict`)).body)
    expect(later.evidence).not.toBe(evidence)
    expect(later.proof.reasons).toContain('8 fibers of cable TN-4 were shot after the repair and are not judged yet')
    await judged()
  })

  it('stands in the report: what is not restored and why, and every figure', async () => {
    const { text } = await readReport(server, calloutId)
    expect(text).toContain('Every fiber of cable TN-4')
    expect(text).toMatch(/2 not restored: 31, 34|1 not restored: 34/)
    const { proof } = cableProofRecord.parse((await call('GET', address)).body)
    for (const { fiber, totals } of proof.fibers)
      for (const { after, allowed } of totals)
        if (after !== null && allowed !== null)
          expect(text, `fiber ${fiber}`).toMatch(
            new RegExp(`${after.toFixed(2)} ± (< )?0\\.\\d\\d ${allowed.toFixed(2)} `),
          )
  })

  it('leaves with the callout, as it was judged', async () => {
    const { body } = await call('GET', `/api/callouts/${calloutId}/callout.zip`)
    const parts = unzipSync(new Uint8Array(body as Buffer))
    const row = JSON.parse(strFromU8(parts['cable_proofs.jsonl']!)) as { calloutId: string; proof: CableProof | string }
    expect(row.calloutId).toBe(calloutId)
    const proof = typeof row.proof === 'string' ? (JSON.parse(row.proof) as CableProof) : row.proof
    expect(proof).toEqual(cableProofRecord.parse((await call('GET', address)).body).proof)
    expect(strFromU8(parts['survey_traces.jsonl']!).split('\n')).toHaveLength(files.length + 1)
  })

  it('is there at once when asked again, and can be taken out', async () => {
    const record = cableProofRecord.parse((await call('GET', address)).body)
    expect(record.done).toBe(record.of)
    expect((await call('DELETE', `/api/callouts/${calloutId}/survey?role=after`)).status).toBe(200)
    expect((await call('GET', address)).body).toBeNull()
  })
})
