/** `@jest/globals`: what stands there is one for all files. The functions
 * that make tests are not: they are globals. */
export const { jest } = globalThis
