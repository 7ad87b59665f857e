import { logEntry } from '@cold-thread/contract'
import { checkPlant, PlantError, type PlantBundle } from '@cold-thread/core/plant'
import { recordedLinks } from '@cold-thread/core/prove'
import { strFromU8, strToU8, unzipSync, zipSync, type Zippable } from 'fflate'
import { createHash } from 'node:crypto'
import { Op, type Model, type Transaction, type WhereOptions } from 'sequelize'
import { decodeRow, encodeRow, modelOf } from './db/rows.ts'
import { CalloutRow, SignOffRow, SurveyRow, TraceRow, type TableName } from './db/models.ts'
import { SCHEMA_VERSION } from './db/migrations.ts'
import { AppError } from './errors.ts'
import { requireCallout } from './stores/callouts.ts'
import { currentPlant, requirePlant, savePlant } from './stores/plants.ts'

const FORMAT = 'cold-thread/callout'
/** The same callout gives the same bytes, whenever it is written. */
const WRITTEN = new Date('2000-01-01T00:00:00Z')

interface Manifest {
  format: typeof FORMAT
  version: 1
  schema: string
  callout: string
  link: string
  /** SHA-256 of each file beside this one. */
  files: Record<string, string>
}

/** Rows of a callout, by table, in the order in which they are read again. */
async function rowsOf(calloutId: string): Promise<[TableName, WhereOptions][]> {
  const { linkId } = await requireCallout(calloutId)
  const surveyed = await SurveyRow.findAll({ where: { calloutId }, attributes: ['id', 'fiber'] })
  const links = await linksOf(linkId, new Set(surveyed.map(({ fiber }) => fiber)))
  const [signOff, traces] = await Promise.all([
    SignOffRow.findOne({ where: { calloutId } }),
    TraceRow.findAll({ where: { linkId: links }, attributes: ['id', 'calloutId', 'role', 'addedAt'] }),
  ])
  // Of the links' baselines those that were there when it was closed, and those that closing it made.
  const used = traces.filter(
    (trace) =>
      trace.calloutId === calloutId ||
      (trace.calloutId === null && trace.role === 'baseline' && (!signOff || trace.addedAt <= signOff.at)),
  )
  const ids = used.map(({ id }) => id)
  const own = { calloutId }
  return [
    ['callouts', { id: calloutId }],
    ['traces', { id: ids }],
    ['withdrawals', { traceId: [...ids, ...surveyed.map(({ id }) => id)] }],
    ['survey_traces', own],
    ['cable_proofs', own],
    ['observations', own],
    ['attachments', own],
    ['plans', own],
    ['sign_offs', own],
    ['corrections', signOff ? { at: signOff.at } : { id: null }],
  ]
}

/** A callout's link, and those on record whose fibers were shot with it. */
async function linksOf(linkId: string, fibers: ReadonlySet<number>): Promise<string[]> {
  const { bundle } = await currentPlant()
  const link = bundle?.links.find(({ id }) => id === linkId)
  if (!bundle || !link) return [linkId]
  return [...new Set([linkId, ...[...recordedLinks(bundle, link, fibers).values()].map(({ id }) => id)])]
}

const sha256 = (bytes: Uint8Array) => createHash('sha256').update(bytes).digest('hex')

/**
 * A whole callout as a ZIP: its record, log, traces with the baselines that it is held against, photos and files, plans,
 * signature, and the plant. Files lie in it as they came; everything else is lines of JSON.
 */
export async function writeCallout(calloutId: string): Promise<Uint8Array> {
  const files: Record<string, Uint8Array> = {}
  for (const [table, where] of await rowsOf(calloutId)) {
    const model = modelOf(table)
    const rows = await model.findAll({ where, order: [[model.primaryKeyAttribute, 'ASC']], raw: true })
    files[`${table}.jsonl`] = strToU8(
      rows
        .map((row) =>
          encodeRow(row as unknown as Record<string, unknown>, (content, key) => {
            const name = `files/${table}/${String((row as unknown as { id: string }).id)}.${key}`
            files[name] = content
            return name
          }),
        )
        .join('\n'),
    )
  }
  files['plant.json'] = strToU8(JSON.stringify(await requirePlant()))
  const { linkId } = await requireCallout(calloutId)
  const manifest: Manifest = {
    format: FORMAT,
    version: 1,
    schema: SCHEMA_VERSION,
    callout: calloutId,
    link: linkId,
    files: Object.fromEntries(
      Object.keys(files)
        .sort()
        .map((name) => [name, sha256(files[name]!)]),
    ),
  }
  const all: Zippable = { 'manifest.json': strToU8(JSON.stringify(manifest, null, 1)) }
  for (const name of Object.keys(files).sort()) all[name] = files[name]!
  return zipSync(all, { mtime: WRITTEN })
}

/**
 * Takes a callout in from another installation, all or nothing; into one without a plant its plant comes with it.
 * @returns its id
 * @throws AppError naming what is wrong: no such file, damaged, another schema, there already, a link that the plant lacks
 */
export async function readCallout(bytes: Uint8Array, by: string, now: Date): Promise<string> {
  const files = unzipped(bytes)
  const manifest = manifestOf(files)
  if (await CalloutRow.findByPk(manifest.callout))
    throw new AppError('already-there', 'this callout is in this installation already', 'callout')
  const { bundle, version } = await currentPlant()
  const plant = bundle ?? plantIn(files)
  if (!plant.links.some(({ id }) => id === manifest.link))
    throw new AppError('invalid-request', `the plant record here has no link “${manifest.link}”`, 'link')
  await CalloutRow.sequelize!.transaction(async (transaction) => {
    if (!bundle) await savePlant(plant, version, by, now, transaction)
    for (const table of TABLES_READ) await readTable(table, files, transaction)
  })
  return manifest.callout
}

const TABLES_READ: readonly TableName[] = [
  'callouts',
  'traces',
  'withdrawals',
  'survey_traces',
  'cable_proofs',
  'observations',
  'attachments',
  'plans',
  'sign_offs',
  'corrections',
]

async function readTable(table: TableName, files: Record<string, Uint8Array>, transaction: Transaction): Promise<void> {
  const model = modelOf(table)
  const key = model.primaryKeyAttribute
  const rows = strFromU8(files[`${table}.jsonl`]!)
    .split('\n')
    .filter(Boolean)
    .map((line, i) => rowIn(table, line, `${table}.jsonl, line ${i + 1}`, files))
  const ids = rows.map((row) => row[key] as string)
  // A baseline may be here already, with the link that it is of.
  const there = await model.findAll({ where: { [key]: { [Op.in]: ids } }, attributes: [key], transaction })
  const known = new Set(there.map((row: Model) => row.get(key)))
  for (const row of rows) if (!known.has(row[key])) await model.create(row, { transaction })
}

/** @throws AppError naming the line where it is no row of its table */
function rowIn(
  table: TableName,
  line: string,
  place: string,
  files: Record<string, Uint8Array>,
): Record<string, unknown> {
  let row: Record<string, unknown>
  try {
    row = decodeRow(table, JSON.parse(line) as Record<string, unknown>, (name) => files[name])
  } catch (error) {
    throw new AppError('invalid-request', error instanceof Error ? error.message : String(error), place)
  }
  if (table === 'observations') {
    const entry = typeof row.entry === 'string' ? (JSON.parse(row.entry) as unknown) : row.entry
    const { error } = logEntry.safeParse(entry)
    if (error) throw new AppError('invalid-request', error.issues[0]?.message ?? 'this is no entry of a log', place)
  }
  return row
}

function unzipped(bytes: Uint8Array): Record<string, Uint8Array> {
  try {
    return unzipSync(bytes)
  } catch {
    throw new AppError('invalid-request', 'this is not a ZIP file, or it is damaged', 'file')
  }
}

/** JSON of a file; null where it is none. */
function parsed(file: Uint8Array | undefined): unknown {
  try {
    return file ? (JSON.parse(strFromU8(file)) as unknown) : null
  } catch {
    return null
  }
}

/** The manifest, when every file that it names is there and whole. */
function manifestOf(files: Record<string, Uint8Array>): Manifest {
  const manifest = parsed(files['manifest.json']) as Partial<Manifest> | null
  if (manifest?.format !== FORMAT || !manifest.files || !manifest.callout || !manifest.link)
    throw new AppError('invalid-request', 'this is not a callout of Cold Thread', 'manifest.json')
  if (manifest.schema !== SCHEMA_VERSION)
    throw new AppError(
      'invalid-request',
      `the callout was written by schema ${manifest.schema}, this installation has ${SCHEMA_VERSION}`,
      'manifest.json',
    )
  const wanted = [...TABLES_READ.map((table) => `${table}.jsonl`), 'plant.json']
  for (const name of new Set([...wanted, ...Object.keys(manifest.files)])) {
    const file = files[name]
    if (!file) throw new AppError('invalid-request', `“${name}” is missing`, name)
    if (sha256(file) !== manifest.files[name]) throw new AppError('invalid-request', `“${name}” was changed`, name)
  }
  return manifest as Manifest
}

function plantIn(files: Record<string, Uint8Array>): PlantBundle {
  const plant = JSON.parse(strFromU8(files['plant.json']!)) as PlantBundle
  try {
    checkPlant(plant)
  } catch (error) {
    if (error instanceof PlantError) throw new AppError('invalid-request', error.message, 'plant.json')
    throw error
  }
  return plant
}
