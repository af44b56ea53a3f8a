import { createReadStream } from 'node:fs'
import { parseArgs } from 'node:util'
import { frameLine, KISS_COMMANDS, KissDecoder, parseAx25, textOf, type KissEvent, type KissFrame } from '@/core/packet'
import { CommandError, UsageError } from './errors'

/** `zeptik kiss`: the frames in what a KISS TNC sent. */
export async function kissCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({ args, allowPositionals: true, options: { json: { type: 'boolean', default: false } } })
  if (positionals.length > 1) throw new UsageError('kiss reads one FILE, or the standard input')
  const [path] = positionals
  const decoder = new KissDecoder()
  const tell = values.json ? tellJson : tellLine
  try {
    for await (const bytes of path === undefined ? process.stdin : createReadStream(path)) decoder.push(bytes as Buffer).forEach(tell)
  } catch (error) {
    throw new CommandError(`${path ?? 'standard input'}: ${(error as Error).message}`)
  }
  decoder.finish().forEach(tell)
}

const hex = (bytes: Uint8Array) => Buffer.from(bytes).toString('hex')
const NAMES = new Map<number, string>(Object.entries(KISS_COMMANDS).map(([name, code]) => [code, name]))

function readData({ command, data }: KissFrame) {
  return command === KISS_COMMANDS.data ? parseAx25(data) : undefined
}

function tellJson(event: KissEvent): void {
  if (event.type === 'outside') return
  if (event.type === 'bad') {
    console.log(JSON.stringify({ error: event.error, bytes: event.bytes }))
    return
  }
  const { port, command, data } = event.frame
  const parsed = readData(event.frame)
  const ax25 = parsed?.ok
    ? { ...parsed.value, frame: parsed.value.kind, info: { text: textOf(parsed.value.info), hex: hex(parsed.value.info) }, kind: undefined }
    : null
  console.log(JSON.stringify({ port, command, dataHex: hex(data), ax25, ...(parsed && !parsed.ok && { error: parsed.error }) }))
}

function tellLine(event: KissEvent): void {
  if (event.type === 'outside')
    console.log(`${event.bytes.length} bytes outside of frames: ${JSON.stringify(textOf(event.bytes.slice(0, 60)))}`)
  else if (event.type === 'bad') console.log(`no frame, ${event.bytes} bytes: ${event.error}`)
  else {
    const { port, command, data } = event.frame
    const parsed = readData(event.frame)
    if (parsed?.ok)
      console.log(`port ${port}  ${frameLine(parsed.value)}  ${parsed.value.kind}  ${JSON.stringify(textOf(parsed.value.info))}`)
    else if (parsed) console.log(`port ${port}  no AX.25 frame: ${parsed.error}  ${hex(data)}`)
    else console.log(`port ${port}  ${NAMES.get(command) ?? `command ${command}`}  ${hex(data)}`)
  }
}
