import { auth } from '@/server/people'

const handle = (request: Request) => auth().handler(request)
export { handle as GET, handle as POST }
