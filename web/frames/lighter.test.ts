import { beforeEach, describe, expect, it, vi } from 'vitest'
import type { LighterState } from '#core/records/exchange.ts'
import type { Media } from '#core/records/types.ts'
import { ServerError } from '../project/api.ts'
import { isLarge, lighterCopy } from './lighter.ts'

/** What the server answers, one after the other; the last one from then on. */
let answers: (LighterState | Error)[] = []
let asked = 0
/** Whether one was to be made, question by question. */
const made: boolean[] = []
vi.mock('../project/api.ts', async (original) => ({
  ...(await original<object>()),
  api: {
    lighter: async (_: string, make: boolean): Promise<LighterState> => {
      made.push(make)
      const answer = answers[Math.min(asked++, answers.length - 1)]!
      if (answer instanceof Error) throw answer
      return answer
    },
    lighterAddress: (hash: string) => `/lighter of ${hash}`,
  },
}))

const clip = (width: number, height: number, codec = 'avc') =>
  ({ type: 'media', hash: 'h', codec, width, height }) as Media
const making = (share: number): LighterState => ({ state: 'making', share })
const there: LighterState = { state: 'there', share: 1 }
const none: LighterState = { state: 'none', share: 0 }

async function waited({
  slow = true,
  rounds = 20,
}: { slow?: boolean | null | (boolean | null)[]; rounds?: number } = {}) {
  const told: LighterState[] = []
  let round = 0
  const isSlow = async () => (Array.isArray(slow) ? slow[Math.min(round, slow.length - 1)]! : slow)
  const pause = async () => void round++
  const goesOn = () => round < rounds
  const address = await lighterCopy(clip(3840, 2160), { goesOn, isSlow, told: (state) => told.push(state), pause })
  return { address, told, round }
}

beforeEach(() => {
  answers = [none]
  asked = 0
  made.length = 0
})

describe('a lighter copy', () => {
  it('is for videos above full high definition', () => {
    expect([clip(3840, 2160), clip(2160, 3840), clip(2560, 1440)].map(isLarge)).toEqual([true, true, true])
    expect([clip(1920, 1080), clip(1080, 1920), clip(3840, 2160, 'png')].map(isLarge)).toEqual([false, false, false])
  })

  it('is waited for while it is made, and what is known of it is told', async () => {
    answers = [making(0), making(0.5), there]
    expect(await waited()).toEqual({ address: '/lighter of h', told: [making(0), making(0.5), there], round: 2 })
  })

  it('is not asked for where the clip itself is quick', async () => {
    answers = [there]
    expect(await waited({ slow: false })).toEqual({ address: null, told: [], round: 0 })
    expect(asked).toBe(0)
  })

  it('is not made before it is known that the clip is slow, and taken at once where it is there', async () => {
    answers = [none, none, making(0), there]
    expect((await waited({ slow: [null, null, true] })).address).toBe('/lighter of h')
    expect(made).toEqual([false, false, true, true])
    answers = [there]
    asked = 0
    expect(await waited({ slow: null })).toEqual({ address: '/lighter of h', told: [there], round: 0 })
    answers = [none]
    expect(await waited({ slow: [null, false] })).toEqual({ address: null, told: [none], round: 1 })
  })

  it('is given up where there will be none, or the clip is gone from the server', async () => {
    expect(await waited()).toEqual({ address: null, told: [none], round: 0 })
    answers = [new ServerError(404, 'This footage is gone.')]
    expect((await waited()).address).toBeNull()
  })

  it('is asked for again where the server does not answer for a while', async () => {
    answers = [new ServerError(0, 'No answer.'), new ServerError(0, 'No answer.'), there]
    expect(await waited()).toEqual({ address: '/lighter of h', told: [there], round: 2 })
  })

  it('is not waited for once another shot is open', async () => {
    answers = [making(0.1)]
    const { address, told } = await waited({ rounds: 3 })
    expect(address).toBeNull()
    expect(told).toHaveLength(3)
  })
})
