/** The thread the pulse of an agent process runs in. */
import { parentPort, workerData } from 'node:worker_threads'
import { endBrowser } from '../browser-process'
import { ProtocolClient } from '../protocol/client'
import { Pulse, type FromPulse, type ToPulse } from './pulse'

const { server, token } = workerData as { server: string; token: string }
const port = parentPort!
const tell = (message: FromPulse) => port.postMessage(message)
const pulse = new Pulse(new ProtocolClient(server, token), tell, endBrowser)
port.on('message', (message: ToPulse) => {
  pulse.handle(message)
  if (message.type === 'end') port.close()
})
