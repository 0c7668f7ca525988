import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import { type Look, readLooks } from '#core/looks/looks.ts'
import type { KeptLook } from '#core/records/types.ts'
import { say } from '#core/say.ts'
import { api } from '../project/api.ts'
import { newId } from '../project/project.ts'
import { tell } from '../ui/troubles.ts'

/** Looks that belong to whoever works here: every project offers them. */
export const useOwnLooks = defineStore('ownLooks', () => {
  const looks = shallowRef<readonly KeptLook[]>([])

  async function load(): Promise<void> {
    try {
      looks.value = await api.looks()
    } catch (error) {
      tell(error, say`fetch your looks`, 'looks')
    }
  }
  /** Keeps a look; gives whether it did, where it could not that is told. */
  async function keep(look: KeptLook): Promise<boolean> {
    try {
      await api.keepLook(look)
      looks.value = [...looks.value.filter((one) => one.id !== look.id), look]
      return true
    } catch (error) {
      tell(error, say`keep the look ${look.name}`, 'looks')
      return false
    }
  }
  /** The one that was deleted last, to be had back. */
  const deleted = shallowRef<KeptLook | null>(null)
  async function bringBack(): Promise<void> {
    const look = deleted.value
    if (look && (await keep(look)) && deleted.value === look) deleted.value = null
  }
  async function remove(look: KeptLook): Promise<void> {
    try {
      await api.deleteLook(look.id)
    } catch (error) {
      return tell(error, say`delete the look ${look.name}`, 'looks')
    }
    looks.value = looks.value.filter((one) => one.id !== look.id)
    deleted.value = look
  }
  /** Takes in the looks of a file; throws a sentence where it holds none. Returns how many they are. */
  async function take(text: string): Promise<number> {
    const taken = readLooks(text).map((look: Look): KeptLook => ({ type: 'look', id: newId(), preview: '', ...look }))
    try {
      for (const look of taken) await api.keepLook(look)
    } finally {
      // Also those that came in before one was refused.
      await load()
    }
    return taken.length
  }

  return { looks, deleted, load, keep, remove, bringBack, take }
})
