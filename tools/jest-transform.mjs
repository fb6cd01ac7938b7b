// TypeScript for Jest, by swc. Jest runs modules in a context of its own, where Node.js looks up every global name by a
// call that V8 cannot cache: `Math` in an inner loop made whole suites several times slower. Each module therefore gets
// those that inner loops use as names of its own, on its first line, so that line numbers stay.
import swc from '@swc/jest';

const NAMES = ['Math', 'Number', 'Infinity', 'NaN'];
const PRELUDE = `const ${NAMES.map((name) => `${name} = globalThis.${name}`).join(', ')};`;

const inner = swc.createTransformer({
  swcrc: false,
  module: { type: 'es6' },
  sourceMaps: 'inline',
  jsc: {
    target: 'es2023',
    parser: { syntax: 'typescript', decorators: true },
    transform: { legacyDecorator: true, decoratorMetadata: true },
  },
});

const withPrelude = ({ code, ...rest }) => ({ ...rest, code: PRELUDE + code });

export default {
  canInstrument: false,
  getCacheKey: (...args) => `${PRELUDE} ${inner.getCacheKey(...args)}`,
  process: (...args) => withPrelude(inner.process(...args)),
  processAsync: async (...args) => withPrelude(await inner.processAsync(...args)),
};
