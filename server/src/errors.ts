import { ERRORS, type ErrorBody, type ErrorCode } from '@cold-thread/contract'
import { CodedError } from '@cold-thread/core/errors'
import { KitError } from '@cold-thread/core/kit'
import { ProcedureError } from '@cold-thread/core/open'
import { PlantError } from '@cold-thread/core/plant'
import { CompareError, TraceFileError } from '@cold-thread/core/trace'
import { ConnectionAcquireTimeoutError, ConnectionError, DatabaseError, TimeoutError } from 'sequelize'

/** An expected failure: answered with its code's status. */
export class AppError extends CodedError<ErrorCode> {
  constructor(code: ErrorCode, message?: string, place?: string) {
    super(code, message ?? ERRORS[code].message, place)
  }

  get status(): number {
    return ERRORS[this.code].status
  }

  body(): ErrorBody {
    return { code: this.code, message: this.message, ...(this.place === undefined ? {} : { place: this.place }) }
  }
}

/** Connector errors that mean that MariaDB is away, not that the statement was wrong. */
const LOST_CONNECTION =
  /ECONNREFUSED|ECONNRESET|EPIPE|ETIMEDOUT|ER_SOCKET|ER_CONNECTION|ER_SERVER_SHUTDOWN|ER_CMD_CONNECTION|ER_GET_CONNECTION|ER_POOL/

/** The expected failure behind an error of the core or the database, or null when it is none. */
export function toAppError(error: unknown): AppError | null {
  if (error instanceof AppError) return error
  if (error instanceof TraceFileError)
    return new AppError(error.code === 'too-large' ? 'too-large' : 'trace-refused', error.message, error.place)
  if (error instanceof PlantError) return new AppError('plant-refused', error.message, error.place)
  if (error instanceof ProcedureError) return new AppError('procedure-refused', error.message, error.place)
  if (error instanceof KitError) return new AppError('kit-refused', error.message, error.place)
  if (error instanceof CompareError) return new AppError('traces-differ', error.message)
  if (error instanceof CodedError) return new AppError('cannot-compute', error.message, error.place)
  if (isConnectionLoss(error)) return new AppError('database-down')
  return null
}

function isConnectionLoss(error: unknown): boolean {
  if (
    error instanceof ConnectionError ||
    error instanceof ConnectionAcquireTimeoutError ||
    error instanceof TimeoutError
  )
    return true
  if (!(error instanceof DatabaseError)) return false
  const { code, fatal } = error.parent as { code?: string; fatal?: boolean }
  return fatal === true || LOST_CONNECTION.test(code ?? '')
}
