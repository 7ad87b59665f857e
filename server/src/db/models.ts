import type { LogEntry, OpenBook, Plan, PlanContent, Role, SurveyRole, TraceRole } from '@cold-thread/contract'
import type { Kit } from '@cold-thread/core/kit'
import type { Direction, PlantBundle } from '@cold-thread/core/plant'
import type { Cause } from '@cold-thread/core/locate'
import type { CableProof, Proof } from '@cold-thread/core/prove'
import type { TraceFacts } from '@cold-thread/core/report'
import type { FiberReading } from '@cold-thread/core/survey'
import type { Damage } from '@cold-thread/core/sim'
import type { TraceWarning } from '@cold-thread/core/trace'
import {
  DataTypes,
  Model,
  type NonAttribute,
  type InferAttributes,
  type InferCreationAttributes,
  type Sequelize,
} from 'sequelize'

/** The simulated fault of a practice callout. */
export interface Practice {
  seed: number
  damages: Damage[]
}

export class AccountRow extends Model<InferAttributes<AccountRow>, InferCreationAttributes<AccountRow>> {
  declare id: string
  declare name: string
  declare displayName: string
  declare role: Role
  declare passwordHash: string
}

export class SessionRow extends Model<InferAttributes<SessionRow>, InferCreationAttributes<SessionRow>> {
  declare tokenHash: string
  declare accountId: string
  declare expiresAt: Date
  /** Where it was asked for. */
  declare account?: NonAttribute<AccountRow | null>
}

/** One row for each version of the plant: the newest counts, older ones are kept. */
export class PlantRow extends Model<InferAttributes<PlantRow>, InferCreationAttributes<PlantRow>> {
  declare version: number
  declare bundle: PlantBundle
  declare savedAt: Date
  declare savedBy: string
}

export class CalloutRow extends Model<InferAttributes<CalloutRow>, InferCreationAttributes<CalloutRow>> {
  declare id: string
  declare linkId: string
  declare title: string
  declare alarm: string
  declare openedAt: Date
  declare openedBy: string
  declare assignedTo: string | null
  declare practice: Practice | null
  declare version: number
}

export class TraceRow extends Model<InferAttributes<TraceRow>, InferCreationAttributes<TraceRow>> {
  declare id: string
  declare linkId: string
  declare calloutId: string | null
  declare role: TraceRole
  declare direction: Direction
  declare launchCord: number | null
  declare receiveCord: number | null
  declare fileName: string
  declare sha256: string
  declare byteCount: number
  declare content: Buffer
  declare facts: TraceFacts
  declare warnings: TraceWarning[]
  declare simulated: boolean
  declare addedAt: Date
  declare addedBy: string
}

/** A trace file of a cable survey with what it says of its fiber. */
export class SurveyRow extends Model<InferAttributes<SurveyRow>, InferCreationAttributes<SurveyRow>> {
  declare id: string
  declare calloutId: string
  declare role: SurveyRole
  declare fiber: number
  declare direction: Direction
  declare launchCord: number | null
  declare receiveCord: number | null
  declare fileName: string
  declare sha256: string
  declare content: Buffer
  declare reading: FiberReading
  declare addedAt: Date
  declare addedBy: string
}

/** Takes a trace out of the evidence; the trace itself stays. */
export class WithdrawalRow extends Model<InferAttributes<WithdrawalRow>, InferCreationAttributes<WithdrawalRow>> {
  declare traceId: string
  declare at: Date
  declare by: string
}

/** A photo or file of a callout. Only its withdrawal is added later. */
export class AttachmentRow extends Model<InferAttributes<AttachmentRow>, InferCreationAttributes<AttachmentRow>> {
  declare id: string
  declare calloutId: string
  declare fileName: string
  declare caption: string
  declare takenAt: Date
  declare sha256: string
  declare mediaType: string
  declare byteCount: number
  declare content: Buffer
  declare addedAt: Date
  declare addedBy: string
  declare withdrawnBy: string | null
}

export class ObservationRow extends Model<InferAttributes<ObservationRow>, InferCreationAttributes<ObservationRow>> {
  declare id: string
  declare calloutId: string
  declare entry: LogEntry
  declare observedAt: Date
  declare receivedAt: Date
  declare by: string
  declare supersedes: string | null
}

export class SignOffRow extends Model<InferAttributes<SignOffRow>, InferCreationAttributes<SignOffRow>> {
  declare id: string
  declare calloutId: string
  declare at: Date
  declare by: string
  declare evidence: string
  declare remark: string
  declare cause: Cause | null
  declare proof: Proof
}

/** One row for each version of the kit: the newest counts, older ones are kept. */
export class KitRow extends Model<InferAttributes<KitRow>, InferCreationAttributes<KitRow>> {
  declare version: number
  declare kit: Kit
  declare savedAt: Date
  declare savedBy: string
}

/** A version of what an operator keeps for opening: its closures' sheets, its own procedures. */
export class OpenBookRow extends Model<InferAttributes<OpenBookRow>, InferCreationAttributes<OpenBookRow>> {
  declare version: number
  declare book: OpenBook
  declare savedAt: Date
  declare savedBy: string
}

/** A cable's record put right, or looked at and left as it is. */
export class CorrectionRow extends Model<InferAttributes<CorrectionRow>, InferCreationAttributes<CorrectionRow>> {
  declare id: string
  declare cable: string
  declare words: string[]
  declare reason: string
  declare at: Date
  declare by: string
}

/** Every fiber of a cable after the repair, as it was judged by what was stored then. */
export class CableProofRow extends Model<InferAttributes<CableProofRow>, InferCreationAttributes<CableProofRow>> {
  declare calloutId: string
  /** SHA-256 over what it was judged by. */
  declare evidence: string
  declare proof: CableProof
}

/** A version of a callout's plan. Only the approval is added later. */
export class PlanRow extends Model<InferAttributes<PlanRow>, InferCreationAttributes<PlanRow>> {
  declare id: string
  declare calloutId: string
  declare version: number
  declare content: PlanContent
  declare at: Date
  declare by: string
  declare approval: Plan['approval']
}

const name = (length: number) => ({ type: DataTypes.STRING(length), allowNull: false })
const uuid = { type: DataTypes.CHAR(36), allowNull: false }
const uuidKey = { ...uuid, primaryKey: true }
const instant = { type: DataTypes.DATE(3), allowNull: false }
const json = { type: DataTypes.JSON, allowNull: false }

/** Column definitions, shared by models and migrations. */
export const TABLES = {
  accounts: {
    id: uuidKey,
    name: { ...name(60), unique: true },
    displayName: name(100),
    role: name(20),
    passwordHash: name(200),
  },
  sessions: {
    tokenHash: { ...name(64), primaryKey: true },
    accountId: uuid,
    expiresAt: instant,
  },
  plants: {
    version: { type: DataTypes.INTEGER, primaryKey: true },
    bundle: json,
    savedAt: instant,
    savedBy: name(100),
  },
  callouts: {
    id: uuidKey,
    linkId: name(200),
    title: name(200),
    alarm: { type: DataTypes.TEXT, allowNull: false },
    openedAt: instant,
    openedBy: name(100),
    assignedTo: { type: DataTypes.STRING(100), allowNull: true },
    practice: { type: DataTypes.JSON, allowNull: true },
    version: { type: DataTypes.INTEGER, allowNull: false },
  },
  traces: {
    id: uuidKey,
    linkId: name(200),
    calloutId: { ...uuid, allowNull: true },
    role: name(10),
    direction: name(2),
    launchCord: { type: DataTypes.DOUBLE, allowNull: true },
    receiveCord: { type: DataTypes.DOUBLE, allowNull: true },
    fileName: name(255),
    sha256: name(64),
    byteCount: { type: DataTypes.INTEGER, allowNull: false },
    content: { type: DataTypes.BLOB('long'), allowNull: false },
    facts: json,
    warnings: json,
    simulated: { type: DataTypes.BOOLEAN, allowNull: false },
    addedAt: instant,
    addedBy: name(100),
  },
  survey_traces: {
    id: uuidKey,
    calloutId: uuid,
    role: { ...name(8), defaultValue: 'present' },
    fiber: { type: DataTypes.INTEGER, allowNull: false },
    direction: name(2),
    launchCord: { type: DataTypes.DOUBLE, allowNull: true },
    receiveCord: { type: DataTypes.DOUBLE, allowNull: true },
    fileName: name(255),
    sha256: name(64),
    content: { type: DataTypes.BLOB('long'), allowNull: false },
    reading: json,
    addedAt: instant,
    addedBy: name(100),
  },
  withdrawals: { traceId: uuidKey, at: instant, by: name(100) },
  observations: {
    id: uuidKey,
    calloutId: uuid,
    entry: json,
    observedAt: instant,
    receivedAt: instant,
    by: name(100),
    supersedes: { ...uuid, allowNull: true },
  },
  attachments: {
    id: uuidKey,
    calloutId: uuid,
    fileName: name(255),
    caption: name(500),
    takenAt: instant,
    sha256: name(64),
    mediaType: name(100),
    byteCount: { type: DataTypes.INTEGER, allowNull: false },
    content: { type: DataTypes.BLOB('long'), allowNull: false },
    addedAt: instant,
    addedBy: name(100),
    withdrawnBy: { type: DataTypes.STRING(100), allowNull: true },
  },
  sign_offs: {
    id: uuidKey,
    calloutId: { ...uuid, unique: true },
    at: instant,
    by: name(100),
    evidence: name(64),
    remark: { type: DataTypes.TEXT, allowNull: false },
    cause: { type: DataTypes.STRING(20), allowNull: true },
    proof: json,
  },
  kits: {
    version: { type: DataTypes.INTEGER, primaryKey: true },
    kit: json,
    savedAt: instant,
    savedBy: name(100),
  },
  open_books: {
    version: { type: DataTypes.INTEGER, primaryKey: true },
    book: json,
    savedAt: instant,
    savedBy: name(100),
  },
  corrections: {
    id: uuidKey,
    cable: name(200),
    words: json,
    reason: { type: DataTypes.TEXT, allowNull: false },
    at: instant,
    by: name(100),
  },
  plans: {
    id: uuidKey,
    calloutId: { ...uuid, unique: 'version_of_callout' },
    version: { type: DataTypes.INTEGER, allowNull: false, unique: 'version_of_callout' },
    content: json,
    at: instant,
    by: name(100),
    approval: { type: DataTypes.JSON, allowNull: true },
  },
  cable_proofs: { calloutId: uuidKey, evidence: name(64), proof: json },
} as const

const MODELS = {
  accounts: AccountRow,
  sessions: SessionRow,
  plants: PlantRow,
  callouts: CalloutRow,
  traces: TraceRow,
  survey_traces: SurveyRow,
  withdrawals: WithdrawalRow,
  observations: ObservationRow,
  attachments: AttachmentRow,
  sign_offs: SignOffRow,
  kits: KitRow,
  plans: PlanRow,
  open_books: OpenBookRow,
  corrections: CorrectionRow,
  cable_proofs: CableProofRow,
}

export type TableName = keyof typeof TABLES
export const TABLE_NAMES = Object.keys(TABLES) as TableName[]

/** Binds the models to a connection. A process has one. */
export function bindModels(sequelize: Sequelize): void {
  for (const table of TABLE_NAMES) {
    const model = MODELS[table] as unknown as { init(attributes: object, options: object): void }
    model.init(copyColumns(table), { sequelize, tableName: table, timestamps: false })
  }
  SessionRow.belongsTo(AccountRow, { foreignKey: 'accountId', as: 'account', constraints: false })
}

/** Sequelize writes into the definitions it is given: hand it copies. */
export function copyColumns(table: TableName): Record<string, object> {
  return Object.fromEntries(Object.entries(TABLES[table]).map(([column, definition]) => [column, { ...definition }]))
}
