/**
 * Why something can not be done: a sentence that names what is wrong and what to do, made to be shown as it is. Any other
 * error is a defect, and its text is for developers. It is known by its name, which outlives the way from a worker.
 */
export class Refusal extends Error {
  override readonly name = 'Refusal'
}

export const isRefusal = (error: unknown): error is Refusal => error instanceof Error && error.name === 'Refusal'
