export { readRepository, type ReadReport } from './repository'
export { addRepository, repositoryBody } from './add'
export { loadLibrary, type Loaded } from './library'
