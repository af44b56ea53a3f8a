import { createCallMemory } from './callHash'
import { packMessage, unpackMessage } from './payload'
import { payloadToCodeword } from './symbols'
import { wordStep } from './exchangeText'

/** What is known before a slot is heard. */
export interface Knowledge {
  /** Our own call. */
  ownCall?: string
  /** The station that is expected to say something to us. */
  otherCall?: string
  /** Its locator, when it has told it. */
  otherLocator?: string
  /** Stations heard before that may answer our CQ, each with its locator. */
  callers?: readonly { call: string; locator: string }[]
  /** Messages that are expected word by word. */
  expect?: readonly string[]
  /** Where it was heard before, Hz; its message is looked for near this alone. */
  nearHz?: number
}

/** A message that may be there, with the bits it would have. */
export interface ExpectedMessage {
  text: string
  codeword: Uint8Array
}

/** Reports that stations of this mode give one another. */
const LOWEST_DB = -26
const HIGHEST_DB = 20

/**
 * All that the other station could say to us in an exchange, and what is expected word by word. Each is a whole
 * codeword, so that it can be looked for as one and not bit by bit.
 */
export function expectedMessages({ ownCall, otherCall, otherLocator, callers = [], expect = [] }: Knowledge): ExpectedMessage[] {
  const texts = [...expect]
  if (ownCall && otherCall) {
    const say = (step: 'report' | 'rogerReport', reportDb: number) =>
      wordStep({ step, ownCall: otherCall, ownLocator: '', otherCall: ownCall, reportDb, finish: 'RR73' })
    for (let db = LOWEST_DB; db <= HIGHEST_DB; db++) texts.push(say('report', db), say('rogerReport', db))
    const end = (finish: 'RR73' | 'RRR', step: 'roger' | 'seventyThree' = 'roger') =>
      wordStep({ step, ownCall: otherCall, ownLocator: '', otherCall: ownCall, finish })
    texts.push(end('RR73'), end('RRR'), end('RR73', 'seventyThree'))
    if (otherLocator)
      texts.push(wordStep({ step: 'locator', ownCall: otherCall, ownLocator: otherLocator, otherCall: ownCall, finish: 'RR73' }))
  }
  if (ownCall)
    for (const { call, locator } of callers)
      texts.push(wordStep({ step: 'locator', ownCall: call, ownLocator: locator, otherCall: ownCall, finish: 'RR73' }))
  const messages = new Map<string, ExpectedMessage>()
  for (const text of texts) {
    const packed = packMessage(text)
    if (!packed.ok) continue
    // As a receiver reads it that knows the calls.
    const message = unpackMessage(packed.payload, createCallMemory(20, text.toUpperCase().replace(/[<>]/g, '').split(/\s+/)))
    if (message) messages.set(message.text, { text: message.text, codeword: payloadToCodeword(packed.payload) })
  }
  return [...messages.values()]
}
