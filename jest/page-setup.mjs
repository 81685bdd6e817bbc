/** What a test drew on a page goes after it. (Testing Library does so by itself where each file loads it.) */
if (typeof document !== 'undefined') {
  const { cleanup } = await import('@testing-library/react')
  afterEach(() => cleanup())
}
