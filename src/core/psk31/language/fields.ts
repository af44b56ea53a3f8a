/** Names and places of the kind that people tell, written for this: the model learns how such words look, not which they are. */
export const NAMES =
  'anna ben carla david elena felix greta hugo ines jonas karin leo maria nils olga peter rosa sven tina udo vera walter yvonne zoltan rowan mira tom jim bob mike john paul mark steve dave bill alan george frank jack harry martin hans fritz josef franz luigi marco paolo pierre jean michel jose carlos juan pedro ivan sergey andrei pavel jiri tomas laszlo istvan lars erik olaf henk jan piet kees ari pekka yuri oleg dimitri nikos stefan milan goran igor victor'.split(
    ' ',
  )
export const PLACES =
  'newfield eastbridge harrowmere lindenau birkenstein altdorf feldberg monteverde valpiana castelnuovo roccaforte beaulac montclair saintvalle puerto lobo cerro blanco novigrad brezova kamenice rakovec szentmark kisvar nagyfalu sundby nordvik askholm lillefjord vesterberg oudewater nieuwland koivula jarvenkyla stara luka dobrovo skala zelenograd krasnova green hill long meadow white creek silver lake red oak stony point fox hollow ash grove mill pond river bend'.split(
    ' ',
  )
const LETTERS = 'abcdefghijklmnopqrstuvwxyz'
const DIGITS = '0123456789'

/** Fills the fields of a text. @param random evenly in 0 to 1 */
export function fillFields(text: string, random: () => number): string {
  const one = <T>(from: ArrayLike<T>) => from[Math.floor(random() * from.length)]!
  const letters = (count: number) => Array.from({ length: count }, () => one(LETTERS)).join('')
  const call = () => {
    const prefix =
      random() < 0.3 ? letters(2) : random() < 0.6 ? letters(1) : random() < 0.5 ? one(DIGITS) + letters(1) : letters(1) + one(DIGITS)
    const home = prefix + one(DIGITS) + letters(1 + Math.floor(3 * random()))
    const whole = random() < 0.06 ? `${home}/${one(['p', 'm', 'qrp'])}` : home
    return random() < 0.5 ? whole.toUpperCase() : whole
  }
  const values: Record<string, () => string> = {
    call,
    their: call,
    rst: () => one(['599', '589', '579', '559', '569', '449', '339', '539']),
    rsq: () => one(['599', '9579', '8568', '579', '559']),
    name: () => one(NAMES),
    place: () => one(PLACES),
    loc: () => letters(2) + one(DIGITS) + one(DIGITS) + letters(2),
    n: () => String(1 + Math.floor(random() * (random() < 0.7 ? 60 : 1200))),
    year: () => String(1960 + Math.floor(65 * random())),
    time: () =>
      `${String(Math.floor(24 * random())).padStart(2, '0')}${random() < 0.4 ? ':' : ''}${String(Math.floor(60 * random())).padStart(2, '0')}`,
  }
  // A call and the other one's are the same throughout a line.
  const kept = new Map<string, string>()
  return text.replace(/\{(\w+)\}/g, (_, field: string) => {
    const value = kept.get(field) ?? values[field]!()
    if (field === 'call' || field === 'their') kept.set(field, value)
    return value
  })
}
