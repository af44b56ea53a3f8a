import {
  encodePsk31,
  isSendable,
  Psk31Band,
  SAMPLE_RATE_HZ,
  StretchKeeper,
  usualLetters,
  type Psk31Stretch,
  type Psk31Text,
} from '@/core/psk31'
import { CommandError } from '../errors'
import { rounded, type CliMode } from './mode'

/** Silence before and after an encoded transmission, in seconds. */
const MARGIN_S = 0.5

export const psk31: CliMode = {
  sampleRateHz: SAMPLE_RATE_HZ,
  decodeOptions: ['plain'],
  // Between the first zeros of the idling signal's own products.
  widthHz: 100,
  usualHz: 1500,
  openDecoder(values, file) {
    const band = new Psk31Band(values.plain ? undefined : usualLetters())
    const keeper = new StretchKeeper()
    const print = values.json ? printJson : createTable()
    let samples = 0
    const tell = (stretches: readonly Psk31Stretch[]) => stretches.forEach((stretch) => print(stretch, file))
    const take = (heard: readonly Psk31Text[]) => tell(keeper.push(heard))
    return {
      push(block) {
        samples += block.length
        take(band.push(block))
        // Characters come late: what is silent for so long has said all.
        tell(keeper.ended(samples / SAMPLE_RATE_HZ - 5))
      },
      flush() {
        take(band.flush())
        tell(keeper.ended(Infinity))
        return undefined
      },
    }
  },
  encode(text, { sampleRateHz, frequencyHz, level }) {
    const odd = [...text].find((character) => !isSendable(character))
    if (odd !== undefined) throw new CommandError(`"${odd}" has no code in PSK31`)
    const signal = encodePsk31(text, { sampleRateHz, frequencyHz, amplitude: level })
    const margin = Math.round(MARGIN_S * sampleRateHz)
    const samples = new Float32Array(signal.length + 2 * margin)
    samples.set(signal, margin)
    return samples
  },
}

type Print = (stretch: Psk31Stretch, file: string | undefined) => void

const printJson: Print = ({ channel, frequencyHz, startS, endS, text, faint, snrDb }, file) =>
  console.log(
    JSON.stringify({
      ...(file !== undefined && { file }),
      channel,
      frequencyHz: rounded(frequencyHz, 1),
      startS: rounded(startS, 2),
      endS: rounded(endS, 2),
      text,
      faint,
      snrDb: rounded(snrDb, 1),
    }),
  )

function createTable(): Print {
  let headed = false
  return ({ channel, frequencyHz, startS, endS, text, snrDb }, file) => {
    if (!headed && file !== undefined) console.log(file)
    if (!headed) console.log('channel  freq Hz  from s    to s  snr dB  text')
    headed = true
    const number = (value: number, digits: number, width: number) => rounded(value, digits).toFixed(digits).padStart(width)
    // Text of a stranger must not move the cursor of this terminal.
    const shown = text.replace(/[^\x20-\x7e\u00a0-\uffff]/g, ' ')
    console.log(
      `${String(channel).padStart(7)}  ${number(frequencyHz, 1, 7)}  ${number(startS, 1, 6)}  ${number(endS, 1, 6)}  ${number(snrDb, 1, 6)}  ${shown}`,
    )
  }
}
