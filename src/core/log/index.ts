export { ADI_LIMIT_BYTES, type AdiProblem } from './adi'
export { adifHeader, contactToAdif } from './adif'
export { adifBatches, type AdifBatch } from './adifBatches'
export { bandNames, bandOf } from './bands'
export { contactChangeSchema, contactSchema, duplicateKey, emptyContact, type Contact, type Evidence } from './contact'
export { ContactTraces, type ContactTrace } from './sameContact'
export {
  adifImportOrderSchema,
  adifImportSchema,
  contactPageSchema,
  contactQuerySchema,
  workedPlacesSchema,
  type AdifImport,
  type AdifImportOrder,
  type ContactPage,
  type ContactQuery,
  type ContactRow,
  type WorkedPlacesList,
} from './logContracts'
export { contactFromMade, type ContactCircumstances, type MadeContact } from './contactMade'
export { storable } from './storable'
export { missingFrom } from './missing'
