/** `@jest/globals`: one for all files. The functions that make tests are globals, new for each file. */
export const { jest } = globalThis
