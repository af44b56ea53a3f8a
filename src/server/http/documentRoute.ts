import type { z } from 'zod'
import { getServices } from '../services'
import { openDocument, writeDocument } from '../stationRepository'
import { readJson } from './body'

/** The two ends of a small document: read whole, and put back whole after its schema has accepted it. */
export function documentRoute<T extends z.ZodType>(name: string, schema: T, fallback: z.infer<T>, limitBytes: number) {
  return {
    GET: async (): Promise<Response> => Response.json(await openDocument(getServices().database, name, schema, fallback)),
    PUT: async (request: Request): Promise<Response> => {
      const body = await readJson(request, schema, limitBytes)
      if (!body.ok) return body.response
      await writeDocument(getServices().database, name, body.value)
      return Response.json(body.value)
    },
  }
}
