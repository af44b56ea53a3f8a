import { problem } from '@/server/http/body'
import { listSerialPorts } from '@/server/ports/serialBytePort'
import { getServices } from '@/server/services'

export const dynamic = 'force-dynamic'

/** Serial ports of the computer on which the server runs. */
export async function GET(): Promise<Response> {
  try {
    return Response.json([...(await listSerialPorts()), ...getServices().clock.standins.ports()])
  } catch (error) {
    return problem(500, `The serial ports cannot be listed: ${(error as Error).message}`)
  }
}
