import { useRoute, useRouter } from 'vue-router'
import type { Part } from '#core/records/types.ts'
import { say } from '#core/say.ts'
import { useOpenShot } from '../editor/openShot.ts'
import { useChoice } from '../output/choice.ts'
import { useOutputs } from '../output/outputs.ts'
import { useProject } from '../project/project.ts'
import { attend } from '../ui/troubles.ts'

/** From a matte to its file at once, as Output offers it: there it can be stopped, and asked for in another form. */
export function useMatteFile(): (part: Part) => void {
  const route = useRoute()
  const router = useRouter()
  const project = useProject()
  const opened = useOpenShot()
  const outputs = useOutputs()

  async function make(part: Part): Promise<void> {
    await router.push({ name: 'output', params: { ...route.params, shot: opened.shotId } })
    const choice = useChoice()
    choice.extent = 'shot'
    choice.out = 'matte'
    choice.whose = `name ${project.get('member', part.member)?.name}`
    for (const one of choice.orders) outputs.order(one)
  }
  return (part) => attend(make(part), say`render it`)
}
