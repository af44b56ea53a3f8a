'use client'
import { useCallback, useEffect, useState } from 'react'
import { z } from 'zod'
import { localStore } from '@/engine/browser/localStore'

const chosenSchema = z.object({ input: z.string().optional(), output: z.string().optional() })
const store = localStore<z.infer<typeof chosenSchema>>('zeptik.audioDevices', chosenSchema, {})

/** Audio devices are a matter of this browser, so the choice is remembered here and not on the server; without one the system's are used. */
export function readChosenDevices(): { input: string | undefined; output: string | undefined } {
  const { input, output } = store.load()
  return { input, output }
}

function remember(which: 'input' | 'output', id: string): void {
  const { [which]: _, ...rest } = store.load()
  store.save({ ...rest, ...(id && { [which]: id }) })
}

/** Names to choose by: devices of the same name are numbered, for then only their place in the list tells them apart. */
export function deviceNames(devices: readonly Pick<MediaDeviceInfo, 'deviceId' | 'label'>[], unnamed: string): Map<string, string> {
  const count = new Map<string, number>()
  for (const { label } of devices) count.set(label, (count.get(label) ?? 0) + 1)
  const seen = new Map<string, number>()
  return new Map(
    devices.map(({ deviceId, label }) => {
      const number = (seen.get(label) ?? 0) + 1
      seen.set(label, number)
      const name = label || unnamed
      return [deviceId, count.get(label)! > 1 ? `${name} (${number} of ${count.get(label)})` : name]
    }),
  )
}

/** Lists audio devices and the chosen ones. Labels appear once the microphone was allowed. */
export function useAudioDevices() {
  const [devices, setDevices] = useState<MediaDeviceInfo[]>([])
  const [chosen, setChosen] = useState<{ input: string; output: string }>({ input: '', output: '' })
  const refresh = useCallback(async () => {
    const found = (await navigator.mediaDevices?.enumerateDevices().catch(() => [])) ?? []
    setDevices(found.filter((d) => d.deviceId !== ''))
  }, [])
  useEffect(() => {
    const { input, output } = readChosenDevices()
    // The list and the remembered choice exist in the browser only, so they are read after the first render.
    // eslint-disable-next-line react-hooks/set-state-in-effect
    setChosen({ input: input ?? '', output: output ?? '' })
    void refresh()
    const media = navigator.mediaDevices
    const onChange = () => void refresh()
    media?.addEventListener('devicechange', onChange)
    return () => media?.removeEventListener('devicechange', onChange)
  }, [refresh])
  return {
    inputs: devices.filter((d) => d.kind === 'audioinput'),
    outputs: devices.filter((d) => d.kind === 'audiooutput'),
    chosen,
    refresh,
    chooseInput: (id: string) => {
      remember('input', id)
      setChosen((c) => ({ ...c, input: id }))
    },
    chooseOutput: (id: string) => {
      remember('output', id)
      setChosen((c) => ({ ...c, output: id }))
    },
  }
}
