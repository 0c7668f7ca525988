import { answer } from '../jobs/answer.ts'
import { type NodeOrder, type NodeRendered, renderProject } from './renderProject.ts'

/** Renders a project for the server; its news: how many frames of how many are done. */
answer<NodeOrder, NodeRendered, { done: number; of: number }>((order, tell) =>
  renderProject(order, (done, of) => tell({ done, of })),
)
