import { CHANNEL_MODE_WORDS, megahertz, shiftWords, type Channel } from './channel'

/** How a channel is put into any radio, in the order that works on most: each step with its value. */
export function enterSteps(channel: Channel): string[] {
  const { name, receiveHz, transmitHz, tone, toneHz, mode, airBaud } = channel
  const fm = mode.startsWith('fm')
  const stepKHz = [25, 12.5, 5, 1, 0.1].find((step) => Number.isInteger(receiveHz / (step * 1000)))
  const steps = ['Leave the memories: the radio must show a free frequency (VFO), on the side that will be used for data.']
  if (fm && stepKHz !== undefined) steps.push(`Set the tuning step to ${stepKHz} kHz, or one that divides it.`)
  steps.push(`Enter ${megahertz(receiveHz)} MHz as the receive frequency.`)
  steps.push(`Set the mode to ${CHANNEL_MODE_WORDS[mode]}.`)
  steps.push(
    transmitHz === receiveHz
      ? 'Set the shift to none (simplex), and automatic repeater shift off.'
      : `Set the shift to ${shiftWords(channel)}, so that ${megahertz(transmitHz)} MHz shows while transmitting.`,
  )
  if (fm)
    steps.push(
      tone === 'none'
        ? 'Switch tone and tone squelch off, for both directions.'
        : `Set the tone to ${toneHz!.toFixed(1)} Hz, ${tone === 'tone' ? 'sent only' : 'sent and needed to open the squelch'}.`,
    )
  if (airBaud !== null) {
    steps.push('Open the squelch fully: a closed one cuts the beginning of each frame.')
    steps.push(`Set the data socket, or the TNC inside, to ${airBaud} baud on the air. The serial speed is another setting.`)
  }
  steps.push('Set the lowest power that works.')
  steps.push(`Write it to a memory and name it "${name}", shortened as the radio needs.`)
  steps.push('Recall the memory, listen, and compare the display with this list.')
  return steps
}
