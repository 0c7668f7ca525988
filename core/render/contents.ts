/** What of a frame goes into a file: the plate with its light, either of them alone, whose matte it is, who is cut out, or the plate without them. */
export type Content = 'over' | 'light' | 'plate' | 'matte' | 'cutout' | 'clean'

/** Whether it is made on nothing, without the plate. */
export const isBare = (content: Content): boolean => content === 'light' || content === 'matte'
/** Whether it is of somebody: of everybody where nobody is named. */
export const isOfSomebody = (content: Content): boolean =>
  content === 'matte' || content === 'cutout' || content === 'clean'
/** Whether something of it is clear. */
export const isClear = (content: string): boolean => content === 'light' || content === 'cutout'
