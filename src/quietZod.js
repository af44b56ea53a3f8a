// Stands in for the validation library in what the browser gets: it compiles no code. The pages' content policy forbids that,
// and the question whether it may be done is itself reported as a breach by some browsers.
import * as z from 'zod/v4'

z.config({ jitless: true })

export * from 'zod/v4'
export { z, z as default }
