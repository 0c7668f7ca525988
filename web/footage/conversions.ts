import { defineStore } from 'pinia'
import { computed, shallowRef, watch } from 'vue'
import type { ConversionChoices, ConversionState } from '#core/records/exchange.ts'
import { Refusal } from '#core/refusal.ts'
import { say } from '#core/say.ts'
import { api } from '../project/api.ts'
import { useProject } from '../project/project.ts'
import { attend, tell } from '../ui/troubles.ts'
import { useFootage } from './footage.ts'

/** Milliseconds from one look at what is being converted to the next. */
const every = 500
/** The same where the server did not answer. */
const afterTrouble = 5000

/**
 * Clips that the server converts for the open project. It goes on whoever looks; what is done meanwhile is brought in when the
 * project is next open.
 */
export const useConversions = defineStore('conversions', () => {
  const project = useProject()
  const footage = useFootage()

  const all = shallowRef<readonly ConversionState[]>([])
  let timer: ReturnType<typeof setTimeout> | undefined
  /** What is still to be waited for, or to be said. */
  const open = computed(() => all.value.filter(({ state }) => state !== 'taken' && state !== 'done'))
  /** What a clip was before it was converted, as long as the file is kept. */
  const before = (hash: string) => all.value.find(({ state, facts }) => state === 'taken' && facts?.hash === hash)

  watch(
    () => project.session?.project,
    (id) => {
      all.value = []
      clearTimeout(timer)
      if (id) follow(id)
    },
    { immediate: true },
  )

  /** Looks at what is being converted for a project, and again as long as there is something under way. */
  function follow(id: string): void {
    clearTimeout(timer)
    const looked = look(id).catch((error: unknown) => {
      // It goes on without being looked at: once it answers again, so does this.
      if (underWay() && project.session?.project === id) timer = setTimeout(() => follow(id), afterTrouble)
      throw error
    })
    attend(looked, say`see how far the conversion is`)
  }
  const underWay = () => open.value.some(({ state }) => state === 'waiting' || state === 'running')
  async function look(id: string): Promise<void> {
    const found = await api.conversions(id)
    if (project.session?.project !== id) return
    all.value = found
    for (const one of found) if (one.state === 'done') await bringIn(id, one)
    if (underWay()) timer = setTimeout(() => follow(id), every)
  }

  async function bringIn(id: string, { id: conversion, name, facts, error }: ConversionState): Promise<void> {
    if (facts) footage.add(facts, name, conversion.slice(0, 13))
    // It is in all the same: what of it is not as it should be is said once, and in its row.
    if (error) tell(new Refusal(`${name}: ${error}`), say`convert the clip`)
    await api.takeConversion(id, conversion)
    all.value = await api.conversions(id)
  }

  function choose({ id }: ConversionState, choices: ConversionChoices): void {
    const own = project.session?.project
    if (own)
      attend(
        api.chooseConversion(own, id, choices).then(() => follow(own)),
        say`begin the conversion`,
      )
  }

  /** Ends a conversion, puts away why it failed, or lets go of the file as it came in. */
  function drop({ id }: ConversionState): void {
    const own = project.session?.project
    if (!own) return
    all.value = all.value.filter((one) => one.id !== id)
    attend(
      api.dropConversion(own, id).then(() => follow(own)),
      say`end the conversion`,
    )
  }

  /** The address of a picture of how the bright light of a clip would become. */
  const preview = ({ id }: ConversionState, bright: ConversionChoices['bright']) =>
    api.conversionPreview(project.session?.project ?? '', id, bright)

  return { open, before, follow, choose, drop, preview }
})
