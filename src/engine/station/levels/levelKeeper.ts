import { byEffect, isOk, type AudioReport } from '@/core/audio'
import { SAMPLE_RATE_HZ } from '@/core/dsp'
import { SLOT_MS } from '@/core/time'
import { judgeDevice, receiveTarget, withDose, type LevelHistoryEntry } from '@/core/levels'
import { convertedOf, type AudioBlock, type AudioSource, type SourceFacts } from '../audioBlock'
import { joinSamples } from '@/core/dsp'
import { SendLater } from '../sendLater'
import type { LevelPoint, StationState } from '../state'
import type { AudioPiece } from './examiner.api'
import type { ExaminerClient } from './examiner.client'

/** Samples go to the worker in pieces of this length. */
const PIECE_S = 0.5
/** A report is asked for this often, in time of the audio and in time of the machine. */
const REPORT_EVERY_MS = 1000
const POINT_EVERY_MS = 10_000
const KEPT_POINTS = 720
const SEND_EVERY_MS = 30_000
const MOST_WAITING = 500
/** A slot with this much speech in it is marked. */
const SPOILT_S = 1.5
const KEPT_SLOTS = 40
/** If the worker is this far behind, samples are let go: the level is no record. */
const MOST_BEHIND = 20

export interface LevelKeeperHost {
  monotonicMs: () => number
  newId: () => string
  createExaminer: () => ExaminerClient
  sendLevelHistory: (entries: LevelHistoryEntry[]) => Promise<boolean>
  source: () => AudioSource | undefined
  /** What is no fault in the mode in front. */
  noFault: () => readonly string[]
  set: (change: Partial<StationState>) => void
}

/** What the running station does about levels: examines what is heard, keeps its history, marks slots that speech spoilt. */
export class LevelKeeper {
  private readonly examiner: ExaminerClient
  private blocks: AudioBlock[] = []
  private behind = 0
  private epoch = 0
  private lastReportMs = -Infinity
  private lastPointUtcMs = -Infinity
  private lastSentMs = -Infinity
  /** The converter's own noise, if it was measured. */
  private converter2500Dbfs: number | undefined
  private lastReportUtcMs: number | undefined
  private points: LevelPoint[] = []
  private readonly speechS = new Map<number, number>()
  private readonly queue: SendLater<LevelHistoryEntry>

  constructor(private readonly host: LevelKeeperHost) {
    this.examiner = host.createExaminer()
    this.queue = new SendLater(host.sendLevelHistory, { mostWaiting: MOST_WAITING, batch: MOST_WAITING })
  }

  /** Another source, or another situation that is to be measured by itself. */
  restart(sourceChanged: boolean): void {
    this.epoch++
    this.blocks = []
    this.lastReportUtcMs = undefined
    void this.examiner.restart()
    if (!sourceChanged) {
      this.host.set({ audio: undefined })
      return
    }
    this.points = []
    this.lastPointUtcMs = -Infinity
    this.speechS.clear()
    this.host.set({ audio: undefined, levelPoints: [], spoiltSlots: [] })
  }

  close(): void {
    this.examiner.close()
  }

  push(block: AudioBlock): void {
    const { channels, rateHz } = convertedOf(block)
    const first = this.blocks[0] && convertedOf(this.blocks[0])
    if (first && (first.rateHz !== rateHz || first.channels.length !== channels.length)) this.blocks = []
    this.blocks.push(block)
    if (this.blocks.reduce((sum, b) => sum + convertedOf(b).channels[0]!.length, 0) < PIECE_S * rateHz) return
    const { blocks } = this
    this.blocks = []
    if (this.behind >= MOST_BEHIND) return
    const piece: AudioPiece = {
      channels: channels.map((_, c) => joinSamples(blocks.map((b) => convertedOf(b).channels[c]!))),
      rateHz,
      mono: joinSamples(blocks.map((b) => b.samples)),
    }
    void this.examine(piece, block.startUtcMs + (block.samples.length / SAMPLE_RATE_HZ) * 1000)
  }

  private async examine(piece: AudioPiece, endUtcMs: number): Promise<void> {
    const { epoch } = this
    const nowMs = this.host.monotonicMs()
    const want = nowMs - this.lastReportMs >= REPORT_EVERY_MS && this.behind < 2
    if (want) this.lastReportMs = nowMs
    this.behind++
    try {
      const report = await this.examiner.examine(piece, want)
      if (report && epoch === this.epoch) this.take(report, endUtcMs)
    } catch (error) {
      // Receiving goes on without the coach, but not in silence about it.
      this.host.set({ audio: undefined, notice: { text: `The level coach failed: ${(error as Error).message}`, utcMs: endUtcMs } })
    } finally {
      this.behind--
    }
  }

  /** What the converter's own noise was measured as; undefined: as of any. */
  setConverter(dbfs: number | undefined): void {
    this.converter2500Dbfs = dbfs
  }

  private take(report: AudioReport, utcMs: number): void {
    const facts: SourceFacts = this.host.source()?.facts?.() ?? { processing: [], lostBlocks: 0 }
    const device = judgeDevice(facts).filter((f) => !report.findings.some((r) => r.code === f.code))
    const target = receiveTarget(report, this.converter2500Dbfs)
    const findings = byEffect(withDose([...report.findings, ...device], target).filter(({ code }) => !this.host.noFault().includes(code)))
    this.markSpeech(report, utcMs)
    this.host.set({
      audio: { ...report, target, findings, ok: isOk(findings), utcMs, ...(facts.sampleClock && { sampleClock: facts.sampleClock }) },
    })
    if (utcMs - this.lastPointUtcMs < POINT_EVERY_MS || !Number.isFinite(report.noise2500Dbfs)) return
    this.lastPointUtcMs = utcMs
    const worst = findings.find((f) => f.severity !== 'note')?.code ?? null
    this.points = [...this.points, { utcMs, noise2500Dbfs: report.noise2500Dbfs, headroomDb: report.headroomDb, worst }].slice(-KEPT_POINTS)
    this.host.set({ levelPoints: this.points })
    const source = this.host.source()
    // Practice and recordings say nothing of the station's own levels.
    if (source?.kind === 'microphone') this.keep(source.label, this.points[this.points.length - 1]!)
  }

  private markSpeech(report: AudioReport, utcMs: number): void {
    const sinceS = this.lastReportUtcMs === undefined ? 2 : (utcMs - this.lastReportUtcMs) / 1000
    this.lastReportUtcMs = utcMs
    if (report.speechNowS === 0) return
    const slot = Math.floor((utcMs - 500) / SLOT_MS)
    const seconds = (this.speechS.get(slot) ?? 0) + Math.min(report.speechNowS, Math.max(0, sinceS))
    this.speechS.set(slot, seconds)
    if (seconds < SPOILT_S) return
    for (const old of this.speechS.keys()) if (old < slot - KEPT_SLOTS) this.speechS.delete(old)
    const spoiltSlots = [...this.speechS].filter(([, s]) => s >= SPOILT_S).map(([slotIndex, speechS]) => ({ slotIndex, speechS }))
    this.host.set({ spoiltSlots })
  }

  private keep(deviceLabel: string, point: LevelPoint): void {
    this.queue.add([{ ...point, id: this.host.newId(), deviceLabel }])
    const nowMs = this.host.monotonicMs()
    if (nowMs - this.lastSentMs < SEND_EVERY_MS) return
    this.lastSentMs = nowMs
    void this.queue.flush()
  }
}
