import { outline } from './outline.ts'
import { oval } from './oval.ts'
import { painted } from './painted.ts'
import { pin } from './pin.ts'
import { point } from './point.ts'
import { rod } from './rod.ts'

/** Every part kind; a new one is its file and a line here. */
export const partKinds = { rod, oval, outline, pin, point, painted }
