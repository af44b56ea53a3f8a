import { resolve } from 'node:path'
import { z } from 'zod'
import { isLoopback, SHORTEST_PHRASE } from './http/passPhrase'

/** What the environment may say. */
const environmentSchema = z.object({
  PORT: z.coerce
    .number('PORT must be a number')
    .int('PORT must be a whole number')
    .min(1, 'PORT must be 1 to 65535')
    .max(65_535, 'PORT must be 1 to 65535')
    .default(7350),
  HOST: z
    .string()
    .trim()
    .regex(/^[0-9A-Za-z.:-]+$/, 'HOST must be an address or a host name')
    .default('127.0.0.1'),
  ZEPTIK_NAMES: z
    .string()
    .regex(/^[0-9A-Za-z.,\s-]*$/, 'ZEPTIK_NAMES must be host names, with commas between')
    .default(''),
  ZEPTIK_PASS: z.string().max(200).optional(),
  ZEPTIK_DATA: z.string().trim().min(1, 'ZEPTIK_DATA must name a folder').optional(),
  ZEPTIK_DEMO: z.enum(['0', '1'], 'ZEPTIK_DEMO must be 0 or 1').default('0'),
})

export interface Config {
  port: number
  host: string
  dataFolder: string
  demo: boolean
  /** What others have to give before anything is served to them; none where only this computer reaches the server. */
  passPhrase?: string
  /** Names of the public directory by which this server may be called. */
  names: readonly string[]
}

/** Reads the configuration. @returns all problems at once, each with its variable's name */
export function readConfig(
  environment: Record<string, string | undefined>,
  root: string,
): { ok: true; config: Config } | { ok: false; problems: string[] } {
  // A variable that is set to nothing counts as not set.
  const given = Object.fromEntries(Object.entries(environment).filter(([, value]) => value !== undefined && value !== ''))
  const parsed = environmentSchema.safeParse(given)
  if (!parsed.success) {
    return {
      ok: false,
      problems: parsed.error.issues.map((issue) => `${issue.message} (${issue.path.join('.')} is "${given[String(issue.path[0])] ?? ''}")`),
    }
  }
  const { PORT, HOST, ZEPTIK_NAMES, ZEPTIK_PASS, ZEPTIK_DATA, ZEPTIK_DEMO } = parsed.data
  // What is wrong with a pass phrase is said without showing it.
  if (ZEPTIK_PASS !== undefined && ZEPTIK_PASS.length < SHORTEST_PHRASE)
    return { ok: false, problems: [`ZEPTIK_PASS must have ${SHORTEST_PHRASE} characters or more`] }
  if (ZEPTIK_PASS === undefined && !isLoopback(HOST))
    return {
      ok: false,
      problems: [
        `with HOST=${HOST} others in the network reach this server, which can key a transmitter: choose a pass phrase for them, ZEPTIK_PASS="..." with ${SHORTEST_PHRASE} characters or more, or leave HOST at 127.0.0.1`,
      ],
    }
  const names = [HOST, ...ZEPTIK_NAMES.split(/[,\s]+/)].map((name) => name.toLowerCase()).filter(Boolean)
  const demo = ZEPTIK_DEMO === '1'
  return {
    ok: true,
    config: {
      ...{ port: PORT, host: HOST, names, demo, dataFolder: resolve(root, ZEPTIK_DATA ?? (demo ? 'demo-data' : 'data')) },
      ...(ZEPTIK_PASS !== undefined && { passPhrase: ZEPTIK_PASS }),
    },
  }
}
