export { contactFacts, FILLED_SURE, type ContactFacts } from './contactFacts'
export { type Fact } from './agreement'
export { heardWords, isCallWord, isNear, type HeardText } from './words'
