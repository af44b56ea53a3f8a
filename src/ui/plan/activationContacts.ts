import { z } from 'zod'
import { countedContactSchema, type Activation } from '@/core/activation'
import { ask } from '@/engine/browser/http'

const contactsSchema = z.array(countedContactSchema)

/** Which contacts are an activation's: the same for its progress and for its file. */
export const belonging = ({ startedUtcMs, endedUtcMs, reference }: Activation) => ({
  from: startedUtcMs,
  ...(endedUtcMs !== null && { to: endedUtcMs }),
  ...(reference && { reference }),
})

const pathOf = (activation: Activation) =>
  `/api/session/contacts?${new URLSearchParams(
    Object.entries({ ...belonging(activation), practice: activation.practice }).map(([name, value]) => [name, String(value)]),
  ).toString()}`

/** Asks for them, anew with every contact that is stored. */
export const activationQuery = (activation: Activation, stored: number) => ({
  queryKey: ['activation', activation.id, stored],
  queryFn: () => ask(contactsSchema, pathOf(activation)),
  placeholderData: (before: z.infer<typeof contactsSchema> | undefined) => before,
  retry: 1,
})
