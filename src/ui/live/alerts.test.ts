import { whyNoSounds } from './alerts'

describe('sounds for the operator', () => {
  it.each([
    ['', 'radio', true, /Choose an output for sounds/],
    ['default', 'radio', true, /Choose an output for sounds/],
    ['radio', 'radio', true, /goes to the radio/],
    ['speaker', '', true, /on the Connect screen first/],
    ['speaker', 'default', true, /on the Connect screen first/],
    ['speaker', 'radio', false, /This browser cannot choose/],
  ])('never go where they might be transmitted: to "%s" with the radio at "%s"', (soundsTo, radioTo, canChoose, why) => {
    expect(whyNoSounds(soundsTo, radioTo, canChoose)).toMatch(why)
  })
  it('go to an output of their own', () => {
    expect(whyNoSounds('speaker', 'radio', true)).toBeUndefined()
  })
})
