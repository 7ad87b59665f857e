import { Sequelize } from 'sequelize'
import type { Config } from '../config.ts'
import { patchConnector } from './connectorPatch.ts'
import { bindModels } from './models.ts'

/** A pool of connections to MariaDB with all models bound. Times are UTC. */
export function connect(database: Config['database']): Sequelize {
  const sequelize = new Sequelize(database.name, database.user, database.password, {
    dialect: 'mariadb',
    host: database.host,
    port: database.port,
    timezone: '+00:00',
    logging: false,
    pool: { max: 8, min: 0, acquire: 5000, idle: 10_000 },
    dialectOptions: { connectTimeout: 3000 },
  })
  patchConnector(sequelize)
  bindModels(sequelize)
  return sequelize
}
