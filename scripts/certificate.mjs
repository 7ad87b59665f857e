// npm run certificate -- --host NAME …: a certificate authority for trials, and a server certificate from it.
import { chmodSync, existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { isIP } from 'node:net'
import { join } from 'node:path'
import { parseArgs } from 'node:util'
import { DATA, installPackages } from './lib/setup.mjs'
import { report, StepError } from './lib/step.mjs'

const USAGE = `npm run certificate -- --host NAME [--host NAME …] [--folder FOLDER]
  --host NAME       name or address by which browsers reach the server; each one given is in the certificate
  --folder FOLDER   where authority and certificate are kept (.data/trial-authority)`

const DAY = 86_400_000
/** Phones refuse server certificates that hold longer than 398 days; a trial needs no more than three months. */
const CERTIFICATE_DAYS = 90
const AUTHORITY_DAYS = 365
const ALGORITHM = { name: 'ECDSA', namedCurve: 'P-256', hash: 'SHA-256' }

function readOptions() {
  try {
    const { values } = parseArgs({
      options: {
        host: { type: 'string', multiple: true, default: [] },
        folder: { type: 'string', default: join(DATA, 'trial-authority') },
        help: { type: 'boolean', default: false },
      },
    })
    return values
  } catch (error) {
    throw new StepError('options', error.message, `use one of these:\n${USAGE}`)
  }
}

function checkHost(host) {
  const name = /^(?=.{1,253}$)([a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?)(\.[a-z0-9]([a-z0-9-]{0,61}[a-z0-9])?)*$/i
  if (isIP(host) === 0 && !name.test(host))
    throw new StepError('options', `"${host}" is neither a host name nor an address`, USAGE)
}

/** Both in PEM; a key is readable by its owner alone. */
function write(folder, name, certificate, key) {
  writeFileSync(join(folder, `${name}.pem`), certificate)
  const keyFile = join(folder, `${name}-key.pem`)
  writeFileSync(keyFile, key, { mode: 0o600 })
  chmodSync(keyFile, 0o600)
}

async function main() {
  const { host: hosts, folder, help } = readOptions()
  if (help) return console.log(USAGE)
  if (hosts.length === 0) throw new StepError('options', 'no host is named', USAGE)
  hosts.forEach(checkHost)
  installPackages()
  // The certificate package is built on it.
  await import('reflect-metadata')
  const x509 = await import('@peculiar/x509')
  const { subtle } = globalThis.crypto
  x509.cryptoProvider.set(globalThis.crypto)
  const pemOf = async (key) => x509.PemConverter.encode(await subtle.exportKey('pkcs8', key), 'PRIVATE KEY')
  const keyPair = () => subtle.generateKey(ALGORITHM, true, ['sign', 'verify'])
  const serial = () => Buffer.from(globalThis.crypto.getRandomValues(new Uint8Array(16))).toString('hex')
  const now = new Date(Date.now() - 60_000)
  const after = (days) => new Date(now.getTime() + days * DAY)
  mkdirSync(folder, { recursive: true, mode: 0o700 })

  async function makeAuthority() {
    const keys = await keyPair()
    const certificate = await x509.X509CertificateGenerator.createSelfSigned({
      serialNumber: serial(),
      name: 'CN=Cold Thread trial authority',
      notBefore: now,
      notAfter: after(AUTHORITY_DAYS),
      keys,
      signingAlgorithm: ALGORITHM,
      extensions: [
        new x509.BasicConstraintsExtension(true, 0, true),
        new x509.KeyUsagesExtension(x509.KeyUsageFlags.keyCertSign | x509.KeyUsageFlags.cRLSign, true),
        await x509.SubjectKeyIdentifierExtension.create(keys.publicKey),
      ],
    })
    write(folder, 'authority', certificate.toString('pem'), await pemOf(keys.privateKey))
    return { certificate, key: keys.privateKey }
  }

  async function readAuthority() {
    const file = join(folder, 'authority.pem')
    if (!existsSync(file)) return null
    const certificate = new x509.X509Certificate(readFileSync(file, 'utf8'))
    if (certificate.notAfter < after(CERTIFICATE_DAYS)) return null
    const [der] = x509.PemConverter.decode(readFileSync(join(folder, 'authority-key.pem'), 'utf8'))
    return { certificate, key: await subtle.importKey('pkcs8', der, ALGORITHM, true, ['sign']) }
  }

  const known = await readAuthority()
  const authority = known ?? (await makeAuthority())
  const keys = await keyPair()
  const certificate = await x509.X509CertificateGenerator.create({
    serialNumber: serial(),
    subject: `CN=${hosts[0]}`,
    issuer: authority.certificate.subject,
    notBefore: now,
    notAfter: after(CERTIFICATE_DAYS),
    publicKey: keys.publicKey,
    signingKey: authority.key,
    signingAlgorithm: ALGORITHM,
    extensions: [
      new x509.BasicConstraintsExtension(false, undefined, true),
      new x509.KeyUsagesExtension(x509.KeyUsageFlags.digitalSignature, true),
      new x509.ExtendedKeyUsageExtension([x509.ExtendedKeyUsage.serverAuth]),
      new x509.SubjectAlternativeNameExtension(hosts.map((host) => ({ type: isIP(host) ? 'ip' : 'dns', value: host }))),
      await x509.AuthorityKeyIdentifierExtension.create(authority.certificate.publicKey),
    ],
  })
  write(folder, 'server', certificate.toString('pem'), await pemOf(keys.privateKey))
  console.log(`Certificate for ${hosts.join(', ')}, until ${certificate.notAfter.toISOString().slice(0, 10)}.
Start with:
  npm start -- --host ${isIP(hosts[0]) ? hosts[0] : '0.0.0.0'} --public-address https://${isIP(hosts[0]) === 6 ? `[${hosts[0]}]` : hosts[0]}:8460 \\
    --tls-certificate ${join(folder, 'server.pem')} --tls-key ${join(folder, 'server-key.pem')}
${known ? 'Devices that know this trial authority need nothing new.' : `Each phone must be told to trust ${join(folder, 'authority.pem')} (settings, security, certificates).`}
This authority is for trials: whoever has authority-key.pem can pretend to be any site to those phones. Take it off the
phones afterwards; for work in earnest use a certificate of your own organisation.`)
}

main().catch((error) => process.exit(report(error)))
