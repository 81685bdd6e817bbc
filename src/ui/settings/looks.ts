/** Tables of the settings look alike. */
export const cell = 'py-2 pr-4 align-baseline'
export const head = 'label py-1.5 pr-4 text-left'
