import { choice, still } from '../../parameters/builders.ts'
import { common, defineRecording } from '../voice.ts'

/** Sounds that were brought in: several take turns. */
export const file = defineRecording('file', {
  title: 'Sound of a file',
  summary: 'A recording of your own, or the sound of any clip; several takes take turns.',
  group: 'Files',
  ways: ['moments', 'through'],
  moments: 'frames',
  parameters: {
    begin: still('Begin', 's', [0, 3600, 0.01], 0, 'Where in the file it begins.'),
    over: choice(
      'At its end',
      { loop: 'again from the start', once: 'over' },
      'What happens when it is over before its frames are.',
    ),
    ...common,
  },
  sentence: '{takes} {when}',
})

const { level, tone, place, distance } = common
/** The sound that was recorded with the picture. It keeps its pace, so that it stays with it. */
export const own = defineRecording('own', {
  title: 'Sound of the clip',
  summary: 'What was recorded with the picture.',
  group: 'Files',
  ways: ['through'],
  moments: 'frames',
  parameters: { level, tone, place, distance },
  sentence: 'The sound of {takes}, {when}, at {level}',
})
