import { heronMask } from './heron-mask.ts'
import { jettySwing } from './jetty-swing.ts'
import { leap } from './leap.ts'
import { moonPond } from './moon-pond.ts'
import type { Scene } from './scene.ts'
import { twoPoles } from './two-poles.ts'

export const scenes: Scene[] = [jettySwing, twoPoles, heronMask, leap, moonPond]
