import { said, say } from '../say.ts'
import { drawings } from './drawings.ts'

export type Word = keyof typeof drawings

/** What our words mean, one sentence each, in the order in which somebody meets them. The screens and the docs read this list. */
export const words: Record<Word, string> = {
  cast: say`Everybody and everything that is traced in a shot: props, eyes, hands, performers; each keeps its colour everywhere.`,
  part: say`One traced shape of a cast member; a performer is many parts, each with a motion of its own, and together they are one matte.`,
  plate: say`The picture as it was filmed, with nothing laid over it.`,
  rod: say`A part with two ends and a width at each: a stick, a pole, a broom, an oar.`,
  heel: say`The end of a rod where it is held; its handle is a square.`,
  tip: say`The other end of a rod, where a blade leaves it; its handle is a circle.`,
  reach: say`How far a blade goes on past the tip, in pixels: props are shorter than the blade they become.`,
  outline: say`A closed part of corners and smooth points, for heads, arms, torsos.`,
  pin: say`A part of four corners in perspective, for something flat: a sign, a screen, a mask.`,
  key: 'The part’s shape on a frame as it was set by hand; every edit makes one, and nothing computed ever changes it.',
  'in-between': say`A frame whose shape is worked out from the keys on both sides of it.`,
  arc: say`An in-between that turns with the swing and keeps its length, so that a swing needs keys at its ends only.`,
  ghost: say`Where the motion so far says the part will be on a frame without a key; accept it, or drag it right.`,
  'key plan': say`Frames that deserve a key next, found in the motion of the picture and of the keys.`,
  followed: say`A frame whose shape was found in the picture, with how sure that is; followed frames never replace a key.`,
  unsure: say`A followed frame that may be wrong, told by a notch; look at it first.`,
  away: say`Frames on which the part is not there: out of the picture, or hidden.`,
  ride: say`A part that rides goes along with another part, and only its own motion is traced.`,
  matte: say`Where the part covers the picture: white where it does, black where it does not.`,
  feather: say`How softly the edge of a matte runs out, in pixels.`,
  holdout: say`What stands in front: an effect behind somebody is cut where that one is traced.`,
  smear: say`The blur that the part’s own motion draws while the shutter is open.`,
  'clean plate': say`The plate without a cast member: what stands behind is put into its place.`,
  drive: say`A number that follows the traced motion: speed, angle, length, distance, contact, or loudness.`,
  look: say`A named set of effect cards that can be put on any cast member.`,
  moment: say`A frame on which something happens in the motion: a swing, a stop, a contact, a landing.`,
}

/** One of our words as it is called. */
export const wordName = (word: Word): string => said(word, 'word')

/** The page of the docs, in Markdown. */
export function wordsPage(): string {
  const entries = (Object.keys(words) as Word[]).map(
    (word) =>
      `### ${word[0]!.toUpperCase()}${word.slice(1)}\n\n<img src="words/${word.replace(' ', '-')}.svg" alt="" width="160">\n\n${words[word]}\n`,
  )
  return `# Our words\n\nMade from \`core/words\` by \`npm run words\`; the application explains them in the same sentences.\n\n${entries.join('\n')}`
}
