/** Colours of the cast, by index: outline, thread, chip and chart of a member. */
export const castColours = [
  '#8fd3ff',
  '#f19cbb',
  '#d7e26d',
  '#c8b6ff',
  '#ffab91',
  '#9be7c4',
  '#ffd166',
  '#9fb4c7',
] as const
export const castColour = (index: number): string => castColours[index % castColours.length]!
