interface TimedFile {
  file: string
  /** Seconds. */
  time: number
}

export function countsOf(result: { status: number; output: string }): { passed: number; failed: number }
export function unitFiles(report: string, root: string): TimedFile[]
export function journeyFiles(report: string): TimedFile[]
export function slowest(files: readonly TimedFile[], count: number): TimedFile[]
