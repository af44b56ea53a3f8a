export { parseAdi, ADI_LIMIT_BYTES, type AdiProblem } from './adi'
export { adifHeader, adifToContacts, contactsToAdif, contactToAdif, type AdifImport } from './adif'
export { bandNames, bandOf } from './bands'
export {
  contactChangeSchema,
  contactSchema,
  duplicateKey,
  emptyContact,
  missingFrom,
  radioFrequencyHz,
  type Contact,
  type Evidence,
} from './contact'
export { ContactTraces, type ContactTrace } from './sameContact'
export {
  contactPageSchema,
  contactQuerySchema,
  importPreviewSchema,
  workedPlacesSchema,
  type ContactPage,
  type ContactQuery,
  type ContactRow,
  type ImportPreview,
  type WorkedPlacesList,
} from './logContracts'
export { contactFromExchange, type ContactCircumstances } from './fromExchange'
export { storable } from './storable'
