export { contactHistory, contacts, journalMark } from './log'
export { documents, heard } from './station'
