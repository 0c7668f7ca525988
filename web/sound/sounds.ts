import { defineStore } from 'pinia'
import { computed, ref } from 'vue'
import { begunLater, newSound, soundForShot, splitSound } from '#core/edits/sounds.ts'
import { changedBead, type HeardMoment } from '#core/motion/beads.ts'
import type { Drive } from '#core/parameters/drives.ts'
import type { Setting } from '#core/parameters/parameters.ts'
import type { FrameRange, Media, Shot, Sound } from '#core/records/types.ts'
import { soundKind } from '#core/sound/catalogue.ts'
import { soundRate } from '#core/sound/signal/stereo.ts'
import { amid, say } from '#core/say.ts'
import { castColour } from '../editor/castColours.ts'
import { useHearing } from '../editor/hearing.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { usePlayback } from '../editor/playback.ts'
import { newId, useProject } from '../project/project.ts'

/** What is done to sounds, each one commit. */
export const useSounds = defineStore('sounds', () => {
  const project = useProject()
  const opened = useOpenShot()
  const playback = usePlayback()
  const hearing = useHearing()

  const chosenId = ref('')
  const chosen = computed(() => hearing.sounds.find((one) => one.id === chosenId.value) ?? null)

  /** That of whom it rides on. */
  const colourOf = (sound: Sound): string => {
    const member = sound.kind === 'own' ? null : project.get('member', sound.target)
    return member ? castColour(member.colour) : '#a8a6a0'
  }

  function add(kind: string, takes: readonly Media[] = [], frame = playback.frame): void {
    const sound = newSound(project.records()!, opened.shotId, kind, newId, takes, frame)
    if (project.commit(say`Add ${takes[0]?.name ?? amid(soundKind(kind).title)}`, { put: [sound], remove: [] }))
      chosenId.value = sound.id
  }
  /** The sound as it is now: that of the clip is kept from its first change on. */
  const now = (id: string) => hearing.sounds.find((one) => one.id === id)
  function change(id: string, fields: Partial<Sound>, label: string, group = ''): void {
    const sound = now(id)
    if (sound) project.commit(label, { put: [{ ...sound, ...fields }], remove: [] }, group)
  }
  function setSetting(id: string, name: string, value: Setting): void {
    const sound = now(id)
    const label = sound && soundKind(sound.kind).parameters.find((p) => p.name === name)?.label
    if (sound)
      change(
        id,
        { settings: { ...sound.settings, [name]: value } },
        say`Set ${amid(label ?? name)}`,
        `sound ${id} ${name}`,
      )
  }
  function changeMoment(
    id: string,
    moment: HeardMoment,
    fields: Parameters<typeof changedBead>[2],
    label: string,
    group = '',
  ): void {
    const sound = now(id)
    if (sound) change(id, { beads: changedBead(sound.beads, moment, fields) }, label, group)
  }
  function addMoment(id: string, frame: number): void {
    const sound = now(id)
    const bead = { at: null, frame, muted: false, gain: 0 }
    if (sound) change(id, { beads: [...sound.beads, bead] }, say`Add a moment at frame ${frame}`)
  }
  /** Takes a moment away: one of the motion is muted, so that it stays away. */
  function removeMoment(id: string, moment: HeardMoment): void {
    const sound = now(id)
    if (!sound) return
    if (moment.at === null)
      change(id, { beads: sound.beads.filter((_, i) => i !== moment.bead) }, say`Take a moment away`)
    else
      changeMoment(id, moment, { muted: !moment.muted }, moment.muted ? say`Hear a moment again` : say`Mute a moment`)
  }
  function duplicate(sound: Sound): void {
    const order = Math.max(0, ...hearing.sounds.flatMap((one) => (one.kind === 'own' ? [] : one.order))) + 1
    const copy = { ...sound, id: newId(), order }
    if (project.commit(say`Duplicate ${hearing.titleOf(sound)}`, { put: [copy], remove: [] })) chosenId.value = copy.id
  }
  /** One that goes on where the other ends: cut at a frame. */
  function split(sound: Sound, frame: number): void {
    const put = splitSound(project.records()!, sound, frame, opened.length, secondsAt, newId)
    if (put) project.commit(say`Split ${hearing.titleOf(sound)}`, { put, remove: [] })
  }
  const secondsAt = (frame: number) => (hearing.clock?.sampleOf(frame) ?? 0) / soundRate
  /** Other frames for it: `moved` as it is, or cut at its ends, with what is heard left where it is. */
  function setRange(id: string, range: FrameRange, moved: boolean): void {
    const sound = now(id)
    if (!sound) return
    const later = secondsAt(range.from) - secondsAt(sound.range?.from ?? 0)
    const { settings } = moved ? sound : begunLater(project.records()!, sound, later)
    change(id, { range, settings }, moved ? say`Move a sound` : say`Choose the frames of a sound`)
  }
  function copyToShot(sound: Sound, shot: Shot): void {
    const put = [soundForShot(project.records()!, sound, shot, newId)]
    project.commit(say`Copy ${hearing.titleOf(sound)} to ${shot.name}`, { put, remove: [] })
  }
  function remove(sound: Sound): void {
    // The clip's own sound is there by itself: it is silenced.
    if (sound.kind === 'own') return change(sound.id, { on: false }, say`Mute the sound of the clip`)
    const title = hearing.titleOf(sound)
    project.remove(say`Delete ${title}`, title, [{ type: 'sound', id: sound.id }])
  }
  function listenAlone(id: string): void {
    hearing.alone = hearing.alone.includes(id) ? hearing.alone.filter((one) => one !== id) : [...hearing.alone, id]
  }

  /** Place and pitch by the motion, at one click: across the picture, and towards the camera and away. */
  function follow(sound: Sound, what: 'place' | 'pitch'): void {
    const of = sound.target || opened.members[0]?.id
    if (!of) return
    const { width = 1280 } = opened.media ?? {}
    const drive: Drive =
      what === 'place'
        ? { ...{ signal: 'x', of, with: '', bend: [0, 0, 1, 1], smooth: 1, lag: 0 }, from: [0, width], to: [-0.8, 0.8] }
        : {
            ...{ signal: 'approach', of, with: '', bend: [0, 0, 1, 1], smooth: 1.5, lag: 0 },
            from: [-8, 8],
            to: [-4, 4],
          }
    setSetting(sound.id, what, drive)
  }
  function setLevel(level: number, label = say`Set how loud the shot is`): void {
    const shot = opened.shot
    if (shot)
      project.commit(label, { put: [{ ...shot, level: Math.max(-60, Math.min(30, level)) }], remove: [] }, 'shot level')
  }

  return {
    ...{ chosenId, chosen, colourOf, add, change, setSetting, changeMoment, addMoment, removeMoment },
    ...{ duplicate, copyToShot, setRange, split, remove, listenAlone, follow, setLevel },
  }
})
