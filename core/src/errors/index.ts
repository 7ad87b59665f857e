export { CodedError, Fault } from './codedError.ts'
