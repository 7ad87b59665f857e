/** A private MariaDB on loopback. */
export interface Mariadb {
  host: string
  port: number
  name: string
  user: string
  password: string
  folder: string
  readonly pid: number
  restart(): Promise<void>
  stop(): Promise<void>
}

export function temporaryMariadb(options: { fast?: boolean }): Promise<Mariadb>
export function databaseEnv(
  instance: Pick<Mariadb, 'host' | 'port' | 'name' | 'user' | 'password'>,
): Record<string, string>
