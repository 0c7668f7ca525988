import { Refusal } from '#core/refusal.ts'

/** A way on that a person may choose where the server could not start. */
export interface StartChoice {
  id: string
  label: string
}

/** Why the server does not start on a data folder, in a sentence that says what to do; nothing in it was touched. */
export class StartTrouble extends Refusal {
  readonly choices: StartChoice[]
  /** Whether another server runs on the folder. */
  readonly isRunning: boolean
  constructor(sentence: string, choices: StartChoice[] = [], isRunning = false) {
    super(sentence)
    this.choices = choices
    this.isRunning = isRunning
  }
}
