import { CONNECTOR_CLASSES, type ConnectorClass } from '@cold-thread/core/endFace'
import { Command, CommanderError, InvalidArgumentError, Option } from 'commander'
import { advise } from './commands/advise.ts'
import { analyze } from './commands/analyze.ts'
import { compare } from './commands/compare.ts'
import { convert } from './commands/convert.ts'
import { grade } from './commands/grade.ts'
import { locate } from './commands/locate.ts'
import { prove } from './commands/prove.ts'
import { simulate } from './commands/simulate.ts'
import { processOutput, type Output } from './output.ts'
import { Refusal } from './refusal.ts'

function metres(text: string): number {
  const value = Number(text)
  if (!Number.isFinite(value) || value < 0) throw new InvalidArgumentError('a length in metres, 0 or more, is wanted')
  return value
}

function wholeNumber(text: string): number {
  const value = Number(text)
  if (!Number.isInteger(value)) throw new InvalidArgumentError('a whole number is wanted')
  return value
}

function wholeNumbers(text: string): number[] {
  return text.split(',').map(wholeNumber)
}

/**
 * Runs one command line.
 * @returns the exit status: 0 done, 1 an input was refused, 2 wrong usage
 */
export async function main(argv: readonly string[], out: Output = processOutput): Promise<number> {
  let status = 0
  const program = new Command('cold-thread')
    .description('From alarm to signed proof on a damaged optical link')
    .exitOverride()
    .configureOutput({ writeErr: (text) => out.message(text.trimEnd()) })
  const run = (work: () => number | Promise<number>) => async () => {
    status = await work()
  }
  const jsonOption = ['--json', 'print one JSON document (always so; kept for scripts)'] as const

  program
    .command('analyze')
    .description('events of trace files')
    .argument('<files...>')
    .option('--jsonl', 'one document a line')
    .option(...jsonOption)
    .action((files: string[], options: { jsonl?: boolean }) => run(() => analyze(files, options, out))())
  program
    .command('compare')
    .description('what changed between two traces of one fiber')
    .argument('<baseline>')
    .argument('<present>')
    .option(...jsonOption)
    .action((baseline: string, present: string) => run(() => compare(baseline, present, out))())

  const withTraces = (command: Command, later: 'present' | 'after') => {
    const cap = later === 'present' ? 'Present' : 'After'
    return command
      .requiredOption('--plant <file>', 'plant bundle')
      .requiredOption('--link <id>', 'link in the plant')
      .option('--baseline <files...>', "baseline traces shot from the link's from")
      .option('--baseline-b <files...>', "baseline traces shot from the link's to")
      .option(`--${later} <files...>`, `${later} traces shot from the link's from`)
      .option(`--${later}-b <files...>`, `${later} traces shot from the link's to`)
      .option('--launch <metres>', 'cord next to the instrument', metres)
      .option('--receive <metres>', 'cord at the far end', metres)
      .option('--launch-baseline <metres>', 'launch cord of the baseline', metres)
      .option('--launch-baseline-b <metres>', 'launch cord of the baseline from the far end', metres)
      .option(`--launch-${later} <metres>`, `launch cord of the ${cap.toLowerCase()} traces`, metres)
      .option(`--launch-${later}-b <metres>`, `launch cord of the ${cap.toLowerCase()} traces from the far end`, metres)
      .option(...jsonOption)
  }
  withTraces(program.command('locate').description('where the fault is on the ground'), 'present').action((options) =>
    run(() => locate(options, out))(),
  )
  withTraces(program.command('prove').description('is the link as good as its baseline'), 'after')
    .option('--rules <name>', 'rule book')
    .action((options) => run(() => prove(options, out))())

  program
    .command('grade')
    .description('end faces in pictures, by the table of their class')
    .argument('<pictures...>')
    .addOption(new Option('--class <name>', 'class of the connectors').choices(CONNECTOR_CLASSES).makeOptionMandatory())
    .option('--jsonl', 'one document a line')
    .option(...jsonOption)
    .action((files: string[], options: { class: ConnectorClass; jsonl?: boolean }) =>
      run(() => grade(files, options, out))(),
    )
  program
    .command('advise')
    .description('what the splices of a session show together, after each of them')
    .argument('<session>')
    .option(...jsonOption)
    .action((file: string) => run(() => advise(file, out))())

  program
    .command('simulate')
    .description('shoot a link with the simulated OTDR')
    .requiredOption('--plant <file>', 'plant bundle')
    .requiredOption('--link <id>', 'link in the plant')
    .requiredOption('--out <folder>', 'where the .sor files go')
    .option('--damage <file>', 'JSON list of faults to put in')
    .option('--seed <number>', 'seed of glass, joints and noise', wholeNumber, 1)
    .option('--wavelength <nm,...>', 'wavelengths', wholeNumbers, [1310, 1550])
    .option('--pulse <ns>', 'pulse width', metres)
    .option('--record-errors <seed>', 'let the true plant differ from the records', wholeNumber)
    .option(...jsonOption)
    .action((options) => run(() => simulate(options, out))())
  program
    .command('convert')
    .description('.sor to .sor (2.00) or .csv; plant .json to .geojson')
    .argument('<in>')
    .argument('<out>')
    .action((input: string, output: string) => run(() => convert(input, output, out))())

  // The server is loaded only for what needs it.
  program
    .command('serve')
    .description('start the application')
    .allowUnknownOption()
    .argument('[options...]')
    .action((options: string[]) => run(async () => (await import('./commands/serve.ts')).serve(options))())
  program
    .command('demo')
    .description('start the application with the demo plant')
    .allowUnknownOption()
    .argument('[options...]')
    .action((options: string[]) =>
      run(async () => (await import('./commands/serve.ts')).serve(['--demo', ...options]))(),
    )
  program
    .command('backup')
    .description('write everything the application keeps to one file')
    .argument('<file>')
    .action((file: string) => run(async () => (await import('./commands/backup.ts')).backup(file, out))())
  program
    .command('restore')
    .description('read a backup into an empty installation')
    .argument('<file>')
    .action((file: string) => run(async () => (await import('./commands/backup.ts')).restore(file, out))())

  try {
    await program.parseAsync([...argv])
    return status
  } catch (error) {
    if (error instanceof CommanderError) return error.exitCode === 0 ? 0 : 2
    if (error instanceof Refusal) {
      out.message(error.message)
      return 1
    }
    throw error
  }
}
