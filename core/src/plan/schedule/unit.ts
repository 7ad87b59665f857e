/** A person, a tool or a vehicle: it works on one task at a time. */
export interface Unit {
  id: string
  /** What it may be used for: skills of a person, kinds of a tool. */
  can: readonly string[]
}
