export { exportWorkspace, filesBody, importFiles, readZip, type ExchangeReport } from './archive'
