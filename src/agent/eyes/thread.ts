/** The thread that looks at the screens of an agent process. */
import { parentPort } from 'node:worker_threads'
import type { FromEyes, ToEyes } from './port'
import { look } from './reading'

const port = parentPort!
const tell = (message: FromEyes) => port.postMessage(message)
port.on('message', ({ id, looking }: ToEyes) => {
  void look(looking).then(
    (seen) => tell({ id, seen }),
    (error: unknown) => tell({ id, why: (error as Error).message }),
  )
})
