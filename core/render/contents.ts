/** What of a frame goes into a file: the plate with its light, either of them alone, or whose matte it is, or who is cut out. */
export type Content = 'over' | 'light' | 'plate' | 'matte' | 'cutout'

/** Whether it is made on nothing, without the plate. */
export const isBare = (content: Content): boolean => content === 'light' || content === 'matte'
/** Whether something of it is clear. */
export const isClear = (content: string): boolean => content === 'light' || content === 'cutout'
