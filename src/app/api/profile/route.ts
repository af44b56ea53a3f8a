import { z } from 'zod'
import { settingsSchema, stationSchema } from '@/core/station'
import { readJson } from '@/server/http/body'
import { getServices } from '@/server/services'
import { readProfile, writeSettings, writeStation } from '@/server/stationRepository'

export const dynamic = 'force-dynamic'

export async function GET(): Promise<Response> {
  const { database, config } = getServices()
  return Response.json(await readProfile(database, config.demo))
}

const changeSchema = z.object({ station: stationSchema.optional(), settings: settingsSchema.optional() })

export async function PUT(request: Request): Promise<Response> {
  const body = await readJson(request, changeSchema)
  if (!body.ok) return body.response
  const { database, config } = getServices()
  if (body.value.station) await writeStation(database, body.value.station)
  if (body.value.settings) await writeSettings(database, body.value.settings)
  return Response.json(await readProfile(database, config.demo))
}
