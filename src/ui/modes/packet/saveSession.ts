import type { SessionLine } from '@/core/packet/station/contracts'
import { download } from '../../parts/download'
import { formatUtc } from '../../parts/formats'

/** Hands over what was said in a session as a file of text. */
export function saveSession({ peer, beganUtcMs, lines }: { peer: string; beganUtcMs: number; lines: readonly SessionLine[] }): void {
  download(
    `session-${peer}-${new Date(beganUtcMs).toISOString().slice(0, 16).replace(/[:T]/g, '')}.txt`,
    lines.map(({ utcMs, way, text }) => `${formatUtc(utcMs)} ${{ in: '<', out: '>', note: '*' }[way]} ${text}`).join('\n') + '\n',
    'text/plain',
  )
}
