// Jest runs modules in a context in which every look-up of a global is slow. With Math in a constant of each module, whatever
// computes runs as fast as it does outside.
import swc from '@swc/jest'

const transform = {
  createTransformer(options) {
    const inner = swc.createTransformer(options)
    const withMath = (result) => ({ ...result, code: `const Math = globalThis.Math;${result.code}` })
    return {
      ...inner,
      getCacheKey: (...args) => `math-${inner.getCacheKey(...args)}`,
      process: (...args) => withMath(inner.process(...args)),
      processAsync: async (...args) => withMath(await inner.processAsync(...args)),
    }
  },
}

export default transform
