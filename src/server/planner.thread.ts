/** The thread of `threadedPlanner`. */
import { parentPort } from 'node:worker_threads'
import { planHere, type PlanAnswer, type PlanQuestion } from './planner'

parentPort?.on('message', ({ id, rotation, basis }: PlanQuestion) => {
  void planHere(rotation, basis).then((outlook) => parentPort!.postMessage({ id, outlook } satisfies PlanAnswer))
})
