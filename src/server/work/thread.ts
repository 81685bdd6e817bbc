/** A thread of the pool. */
import { parentPort } from 'node:worker_threads'
import { NICE, standBack } from '@/node/background'
import { runJob, type InputOf, type JobName, type Question, type Reply } from './jobs'

standBack(0, NICE.thread)
const port = parentPort!
port.on('message', ({ id, job, input }: Question) => {
  try {
    port.postMessage({ id, output: runJob(job, input as InputOf<JobName>) } satisfies Reply)
  } catch (error) {
    port.postMessage({ id, problem: (error as Error).message } satisfies Reply)
  }
})
