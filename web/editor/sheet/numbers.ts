import { defineStore } from 'pinia'
import { shallowRef } from 'vue'
import type { ColourCurve, Curve } from '#core/parameters/curves.ts'
import type { ColourParameter, NumberParameter, Parameter, Setting } from '#core/parameters/parameters.ts'

/** A setting that may move over time. */
export type Moving = NumberParameter | ColourParameter

/** Something that has numbers over time: an effect, a sound. */
export interface NumbersOf {
  id: string
  parameters: readonly Parameter[]
  colour: string
  settingOf(p: Moving): Setting
  set(p: Moving, value: Setting): void
}

export const movingOf = (parameters: readonly Parameter[]): Moving[] =>
  parameters.filter((p): p is Moving => (p.type === 'number' || p.type === 'colour') && p.keyed === true)

/** Keys that were copied, and of which type of setting. */
export const useKeyClip = defineStore('keyClip', () => ({
  kept: shallowRef<{ curve: Curve | ColourCurve; type: string } | null>(null),
}))
