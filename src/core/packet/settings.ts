import { z } from 'zod'
import { CHECK_BYTES } from './modem/correction'

/** What the operator chooses for packet. */
export const packetSettingsSchema = z.object({
  /** Check bytes that the modem of this device adds for receivers that know them; others read the frame all the same. 0 for none. */
  correction: z.union([z.literal(0), ...CHECK_BYTES.map((count) => z.literal(count))]).default(0),
})
export type PacketSettings = z.infer<typeof packetSettingsSchema>
