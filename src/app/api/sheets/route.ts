import { sheetsFileSchema } from '@/core/levels'
import { problem, readJson } from '@/server/http/body'
import { MOST_SHEETS, readSheets, storeSheets } from '@/server/levelRepository'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

export async function GET(): Promise<Response> {
  return Response.json(await readSheets(getServices().database))
}

/** Takes a file of sheets, or one sheet in the form of such a file. */
export async function POST(request: Request): Promise<Response> {
  const body = await readJson(request, sheetsFileSchema, 1_000_000)
  if (!body.ok) return body.response
  const { database } = getServices()
  const known = await readSheets(database)
  const more = body.value.sheets.filter((sheet) => !known.some((k) => k.id === sheet.id)).length
  if (known.length + more > MOST_SHEETS) return problem(422, `At most ${MOST_SHEETS} sheets are kept: remove some first.`)
  const taken = await storeSheets(database, body.value.sheets)
  return Response.json({ taken, older: body.value.sheets.length - taken })
}
