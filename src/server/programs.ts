import { fileURLToPath } from 'node:url'

/** Files of the programs that the server starts in threads and processes of their own. */
export interface Programs {
  database: string
  adif: string
  links: string
}

/** Where they stand beside a bundled program, as `scripts/start.mjs` has them bundled. @param url of that program */
export function programsBeside(url: string): Programs {
  const at = (name: string) => fileURLToPath(new URL(`./${name}.mjs`, url))
  return { database: at('databaseThread'), adif: at('adifThread'), links: at('linkProcess') }
}
