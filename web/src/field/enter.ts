import type { FieldStore } from './fieldStore.ts'
import { putEntry, type Delivery, type NewEntry } from './outbox.ts'
import type { Sender } from './sender.ts'

/** An entry waits for its answer so long on the screen; then it goes on by itself. */
const PATIENCE_MS = 3000

/** Keeps an entry and sends it; where no answer comes in good time, it is kept and that is all that counts. */
export async function enter(store: FieldStore, sender: Sender, entry: NewEntry): Promise<Delivery> {
  await putEntry(store, entry)
  const sent = sender.flush().then((drained) => drained?.outcomes.get(entry.id) ?? null)
  const late = new Promise<null>((resolve) => setTimeout(() => resolve(null), PATIENCE_MS))
  return (await Promise.race([sent, late])) ?? { outcome: 'later' }
}
