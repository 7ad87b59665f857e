import type { Sequelize } from 'sequelize'

type FormatResults = (this: { isRawQuery(): boolean }, data: unknown, meta?: unknown) => unknown

/**
 * The mariadb connector from version 3.2 on puts a fixed property `meta` on result arrays; Sequelize 6 deletes it for
 * raw queries and fails. Hands Sequelize a copy whose `meta` is a plain property.
 */
export function patchConnector(sequelize: Sequelize): void {
  const { Query } = (
    sequelize as unknown as { dialect: { Query: { prototype: { formatResults: FormatResults & { patched?: true } } } } }
  ).dialect
  const original = Query.prototype.formatResults
  if (original.patched) return
  const wrapped: FormatResults & { patched?: true } = function (data, meta) {
    if (!Array.isArray(data) || !this.isRawQuery()) return original.call(this, data, meta)
    const copy = data.slice() as unknown[] & { meta?: unknown }
    copy.meta = (data as { meta?: unknown }).meta
    return original.call(this, copy, meta)
  }
  wrapped.patched = true
  Query.prototype.formatResults = wrapped
}
