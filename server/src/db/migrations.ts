import type { QueryInterface, Sequelize } from 'sequelize'
import { SequelizeStorage, Umzug } from 'umzug'
import { copyColumns, TABLE_NAMES, type TableName } from './models.ts'

interface Migration {
  name: string
  up(queries: QueryInterface): Promise<void>
  down(queries: QueryInterface): Promise<void>
}

const INDEXES: [TableName, string[]][] = [
  ['sessions', ['accountId']],
  ['traces', ['linkId', 'role']],
  ['traces', ['calloutId']],
  ['observations', ['calloutId', 'receivedAt']],
]

const LATER_TABLES: readonly TableName[] = [
  'survey_traces',
  'kits',
  'plans',
  'attachments',
  'open_books',
  'corrections',
  'cable_proofs',
]
/** Columns that came when fibers were shot after a repair as well, and callouts were closed with their cause. */
const LATER_COLUMNS = [
  ['survey_traces', ['role', 'launchCord', 'receiveCord']],
  ['sign_offs', ['cause']],
] as const
const FIRST_TABLES = TABLE_NAMES.filter((table) => !LATER_TABLES.includes(table))

const MIGRATIONS: readonly Migration[] = [
  {
    name: '0001-first-tables',
    async up(queries) {
      for (const table of FIRST_TABLES) await queries.createTable(table, copyColumns(table) as never)
      for (const [table, columns] of INDEXES) await queries.addIndex(table, columns)
    },
    async down(queries) {
      for (const table of [...FIRST_TABLES].reverse()) await queries.dropTable(table)
    },
  },
  {
    name: '0002-cable-surveys',
    async up(queries) {
      await queries.createTable('survey_traces', copyColumns('survey_traces') as never)
      await queries.addIndex('survey_traces', ['calloutId', 'fiber'])
    },
    async down(queries) {
      await queries.dropTable('survey_traces')
    },
  },
  {
    name: '0003-kit-and-plans',
    async up(queries) {
      await queries.createTable('kits', copyColumns('kits') as never)
      await queries.createTable('plans', copyColumns('plans') as never, {
        uniqueKeys: { version_of_callout: { fields: ['calloutId', 'version'] } },
      })
    },
    async down(queries) {
      await queries.dropTable('plans')
      await queries.dropTable('kits')
    },
  },
  {
    name: '0004-attachments',
    async up(queries) {
      await queries.createTable('attachments', copyColumns('attachments') as never)
      await queries.addIndex('attachments', ['calloutId'])
    },
    async down(queries) {
      await queries.dropTable('attachments')
    },
  },
  {
    name: '0005-open-books',
    async up(queries) {
      await queries.createTable('open_books', copyColumns('open_books') as never)
    },
    async down(queries) {
      await queries.dropTable('open_books')
    },
  },
  {
    name: '0006-corrections',
    async up(queries) {
      await queries.createTable('corrections', copyColumns('corrections') as never)
      // Sheets that were begun before neighbours were a fact of their own.
      await queries.sequelize.query(
        `UPDATE observations SET entry = JSON_INSERT(entry,
           '$.sheet.facts.groupFibers', JSON_EXTRACT('null', '$'),
           '$.sheet.facts.liveNeighbours', JSON_EXTRACT('false', '$'),
           '$.sheet.facts.neighbours', JSON_ARRAY())
         WHERE JSON_VALUE(entry, '$.kind') = 'sheet'`,
      )
    },
    async down(queries) {
      await queries.dropTable('corrections')
    },
  },
  {
    name: '0007-cable-proofs-and-causes',
    async up(queries) {
      await queries.createTable('cable_proofs', copyColumns('cable_proofs') as never)
      // A new installation's table has it already.
      for (const [table, columns] of LATER_COLUMNS) {
        const [there, wanted] = [await queries.describeTable(table), copyColumns(table)]
        for (const column of columns)
          if (!(column in there)) await queries.addColumn(table, column, wanted[column] as never)
      }
    },
    async down(queries) {
      for (const [table, columns] of LATER_COLUMNS)
        for (const column of columns) await queries.removeColumn(table, column)
      await queries.dropTable('cable_proofs')
    },
  },
  {
    name: '0008-grounding',
    async up(queries) {
      // Sheets that were begun before grounding, connectors and pigtails were facts of the job.
      await queries.sequelize.query(
        `UPDATE observations SET entry = JSON_REMOVE(JSON_INSERT(entry,
           '$.sheet.facts.grounded', JSON_EXTRACT(entry, '$.sheet.facts.armored'),
           '$.sheet.facts.schools.groundCable', JSON_VALUE(entry, '$.sheet.facts.schools.bond'),
           '$.sheet.facts.connectors', 1,
           '$.sheet.facts.pigtails', 'single'), '$.sheet.facts.schools.bond')
         WHERE JSON_VALUE(entry, '$.kind') = 'sheet' AND JSON_VALUE(entry, '$.sheet.facts.schools.bond') IS NOT NULL`,
      )
      // An operator's own procedures were kept to a school of bonding by this name.
      await queries.sequelize.query(`UPDATE open_books SET book = REPLACE(book, '"bond":"', '"groundCable":"')`)
    },
    async down(queries) {
      await queries.sequelize.query(`UPDATE open_books SET book = REPLACE(book, '"groundCable":"', '"bond":"')`)
      await queries.sequelize.query(
        `UPDATE observations SET entry = JSON_REMOVE(JSON_INSERT(entry,
           '$.sheet.facts.schools.bond', JSON_VALUE(entry, '$.sheet.facts.schools.groundCable')),
           '$.sheet.facts.grounded', '$.sheet.facts.schools.groundCable', '$.sheet.facts.connectors',
           '$.sheet.facts.pigtails')
         WHERE JSON_VALUE(entry, '$.kind') = 'sheet'`,
      )
    },
  },
]

function migrator(sequelize: Sequelize): Umzug<QueryInterface> {
  return new Umzug({
    migrations: MIGRATIONS.map(({ name, up, down }) => ({
      name,
      up: ({ context }) => up(context),
      down: ({ context }) => down(context),
    })),
    context: sequelize.getQueryInterface(),
    storage: new SequelizeStorage({ sequelize, tableName: 'migrations' }),
    logger: undefined,
  })
}

/** Brings the database to this version's tables. */
export async function migrate(sequelize: Sequelize): Promise<void> {
  await migrator(sequelize).up()
}

/** Takes back the last migration, its data with it. */
export async function migrateDown(sequelize: Sequelize): Promise<void> {
  await migrator(sequelize).down()
}

/** Name of the newest migration, written into backups. */
export const SCHEMA_VERSION = MIGRATIONS.at(-1)!.name
