import { mkdirSync } from 'node:fs'
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http'
import { hostname } from 'node:os'
import next from 'next'
import { readConfig } from './config'
import { lockFolder } from './folderLock'
import { isForeign, isOwnName } from './http/foreign'
import { oddRequest } from './http/oddRequest'
import { needsPageCookie, openPageCookie } from './http/pageCookie'
import { ENTER_PATH, enterPage, LONGEST_FORM_BYTES, PassPhrase } from './http/passPhrase'
import { SAFETY_HEADERS } from './http/safetyHeaders'
import { startPage, STARTING_PATH, startState, type StartStage } from './http/startPage'
import { makePrivate } from './privateFolder'
import { programsBeside } from './programs'
import { openServices, provideServices, type Services } from './services'

const root = process.env.ZEPTIK_ROOT ?? process.cwd()

function stop(message: string): never {
  console.error(`zeptik: ${message}`)
  process.exit(1)
}

/** Whoever has not given the pass phrase gets the page that asks for it, and nothing else. */
async function askWhoItIs(request: IncomingMessage, response: ServerResponse, guard: PassPhrase): Promise<void> {
  const page = (status: number, problem?: string) =>
    response.writeHead(status, { 'content-type': 'text/html; charset=utf-8', 'cache-control': 'no-store' }).end(enterPage(problem))
  if (request.method !== 'POST' || request.url !== ENTER_PATH) {
    if (request.headers.accept?.includes('text/html')) page(401)
    else response.writeHead(401, { 'content-type': 'text/plain' }).end('This server wants its pass phrase first: open it in a browser.')
    return
  }
  let form = ''
  for await (const piece of request as AsyncIterable<Buffer>) {
    form += piece.toString('utf8')
    if (form.length > LONGEST_FORM_BYTES) return void response.writeHead(413, { connection: 'close' }).end()
  }
  const address = request.socket.remoteAddress ?? 'nowhere'
  const entered = guard.enter(new URLSearchParams(form).get('phrase') ?? '', address, performance.now())
  if (entered.ok) return void response.writeHead(303, { location: '/', 'set-cookie': entered.cookie }).end()
  const { wrong } = guard.list().find((t) => t.address === address) ?? { wrong: 0 }
  console.error(`zeptik: a wrong pass phrase came from ${address}, ${wrong} in the last minute`)
  page(entered.status, entered.error)
}

/** A browser gets a page that comes by itself, everything else a plain refusal. */
function answerStarting(request: IncomingMessage, response: ServerResponse, stage: StartStage, seconds: number): void {
  const [type, body] =
    request.url === STARTING_PATH
      ? ['application/json', JSON.stringify(startState(stage, seconds))]
      : request.headers.accept?.includes('text/html')
        ? ['text/html; charset=utf-8', startPage(stage, seconds)]
        : ['text/plain', 'Zeptik is starting.']
  response.writeHead(503, { 'content-type': type, 'retry-after': '2', 'cache-control': 'no-store' }).end(body)
}

async function main(): Promise<void> {
  const read = readConfig(process.env, root)
  if (!read.ok) stop(read.problems.join('\nzeptik: '))
  const { config } = read
  // Other users of the machine have no business in the log, nor in what we write from now on.
  process.umask(0o077)
  try {
    mkdirSync(config.dataFolder, { recursive: true })
  } catch (error) {
    stop(
      `the data folder ${config.dataFolder} cannot be made: ${(error as Error).message}. Set ZEPTIK_DATA to a folder that can be written.`,
    )
  }
  const lock = await lockFolder(config.dataFolder)
  if (!lock.ok) stop(lock.error)
  const { mended, open } = makePrivate(config.dataFolder)
  if (mended > 0)
    console.log(`zeptik: ${mended} files and folders in ${config.dataFolder} were open to other users of this computer; no longer`)
  for (const words of open) console.error(`zeptik: other users of this computer may read the data: ${words}`)

  const pageCookie = openPageCookie(config.dataFolder)
  const passPhrase = config.passPhrase === undefined ? undefined : new PassPhrase(config.passPhrase, pageCookie.secret)
  const names = [...config.names, hostname().toLowerCase()]
  const startedMs = performance.now()
  let stage: StartStage = 'folder'
  const ready: { handle?: (request: IncomingMessage, response: ServerResponse) => Promise<void> } = {}
  const server = createServer((request, response) => {
    for (const [name, value] of Object.entries(SAFETY_HEADERS)) response.setHeader(name, value)
    const refuse = (why: string) => void response.writeHead(403, { 'content-type': 'text/plain', connection: 'close' }).end(why)
    if (!isOwnName(request.headers.host, names))
      return refuse('This server does not go by that name. Open it by its address in numbers, or start it with the name in ZEPTIK_NAMES.')
    const odd = oddRequest(request.method, request.url)
    if (odd) return void response.writeHead(odd.status, { 'content-type': 'text/plain', connection: 'close' }).end(odd.error)
    if (isForeign(request.url, request.headers)) return refuse('Requests from other sites are refused.')
    if (passPhrase && !passPhrase.isIn(request.headers.cookie)) {
      // Whoever hangs up in the middle of the form must not end the server.
      askWhoItIs(request, response, passPhrase).catch(() => response.destroy())
      return
    }
    const ours = pageCookie.isIn(request.headers.cookie)
    if (needsPageCookie(request.method, request.url) && !ours)
      return refuse('A port is lent by a page of this server alone. Load the page anew.')
    if (!ours && !request.url?.startsWith('/api/')) response.setHeader('set-cookie', pageCookie.header)
    if (ready.handle && request.url === STARTING_PATH) return void response.writeHead(204).end()
    if (!ready.handle) return answerStarting(request, response, stage, (performance.now() - startedMs) / 1000)
    ready.handle(request, response).catch((error: unknown) => {
      console.error('zeptik: a request failed:', error)
      if (!response.headersSent) response.writeHead(500).end()
    })
  })
  // The port is taken first: when that fails, nothing else has been started.
  await new Promise<void>((done) => {
    server.once('error', (error: NodeJS.ErrnoException) => {
      if (error.code === 'EADDRINUSE')
        stop(
          `port ${config.port} on ${config.host} is taken by another program. Stop that one, or choose another port: PORT=${config.port + 1} npm start`,
        )
      if (error.code === 'EACCES')
        stop(`port ${config.port} may not be used without special rights. Choose one above 1023: PORT=7350 npm start`)
      stop(`cannot listen on ${config.host}:${config.port}: ${error.message}. Check HOST and PORT.`)
    })
    server.listen(config.port, config.host, () => done())
  })

  // From here on Ctrl-C has something to put away.
  let services: Services | undefined
  let stopping = false
  const shutDown = async () => {
    if (stopping) process.exit(0)
    stopping = true
    server.closeAllConnections()
    server.close()
    await services?.close()
    await lock.release()
    console.log('zeptik: stopped')
    process.exit(0)
  }
  process.on('SIGINT', () => void shutDown())
  process.on('SIGTERM', () => void shutDown())

  stage = 'database'
  try {
    services = await openServices(config, root, programsBeside(import.meta.url), Date.now)
  } catch (error) {
    stop(`the database in ${config.dataFolder} cannot be opened: ${(error as Error).message}`)
  }
  const { replay } = services.logbook
  if (replay.applied > 0) console.log(`zeptik: ${replay.applied} changes of the log were brought into the database from the journal`)
  if (replay.damagedLines.length > 0) console.error(`zeptik: the journal has damaged lines, left out: ${replay.damagedLines.join(', ')}`)
  if (replay.refused.length > 0)
    console.error(`zeptik: the database does not take these entries of the journal, left out: ${replay.refused.join(', ')}`)
  provideServices(services)
  stage = 'screens'
  const app = next({ dev: false, dir: root, hostname: config.host, port: config.port })
  await app.prepare()
  ready.handle = app.getRequestHandler()

  const shown = config.host.includes(':') ? `[${config.host}]` : config.host
  console.log(`zeptik: open http://${shown}:${config.port}`)
  console.log(`zeptik: data in ${config.dataFolder}. Ctrl-C stops it.`)
}

await main()
