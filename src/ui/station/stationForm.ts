import { z } from 'zod'
import { stationSchema, type Station } from '@/core/station'

/** The station as it stands in the form: numbers as they are typed, the audio level in per cent. */
export function toForm(station: Station) {
  const { ft8, psk31 } = station.modes
  return {
    ...station,
    powerW: station.powerW === null ? '' : String(station.powerW),
    voxLeadInMs: String(station.voxLeadInMs),
    transmitLevel: String(Math.round(station.transmitLevel * 100)),
    modes: {
      ...station.modes,
      ft8: { ...ft8, maxTries: String(ft8.maxTries), maxCqTries: String(ft8.maxCqTries) },
      psk31: {
        ...psk31,
        identifyEveryMin: String(psk31.identifyEveryMin),
        cqPauseS: String(psk31.cqPauseS),
        cqTries: String(psk31.cqTries),
      },
    },
  }
}
export type StationForm = ReturnType<typeof toForm>

const number = (text: string) => (text.trim() === '' ? Number.NaN : Number(text.replace(',', '.')))

function fromForm(form: StationForm): z.input<typeof stationSchema> {
  const { ft8, psk31 } = form.modes
  return {
    ...form,
    powerW: form.powerW.trim() === '' ? null : number(form.powerW),
    voxLeadInMs: number(form.voxLeadInMs),
    transmitLevel: number(form.transmitLevel) / 100,
    modes: {
      ...form.modes,
      ft8: { ...ft8, maxTries: number(ft8.maxTries), maxCqTries: number(ft8.maxCqTries) },
      psk31: {
        ...psk31,
        identifyEveryMin: number(psk31.identifyEveryMin),
        cqPauseS: number(psk31.cqPauseS),
        cqTries: number(psk31.cqTries),
      },
    },
  }
}

/** Reads the form; what is wrong is named at its field. */
export const stationFormSchema = z.custom<StationForm>().transform(fromForm).pipe(stationSchema)
