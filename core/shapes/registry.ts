import { say } from '../say.ts'
import { Refusal } from '../refusal.ts'
import type { PartKind } from './kind.ts'
import { outline } from './kinds/outline.ts'
import { oval } from './kinds/oval.ts'
import { painted } from './kinds/painted.ts'
import { pin } from './kinds/pin.ts'
import { point } from './kinds/point.ts'
import { rod } from './kinds/rod.ts'

/** Every part kind; a new one is its file and a line here. */
export const partKinds = { rod, oval, outline, pin, point, painted } satisfies Record<string, PartKind>

export type PartKindName = keyof typeof partKinds

/** The kind of a part, by the name that its record keeps. Throws where there is none of that name. */
export function partKind(name: string): PartKind {
  const kind = (partKinds as Record<string, PartKind>)[name]
  if (!kind) throw new Refusal(say`There is no kind of part called "${name}".`)
  return kind
}
