import { execFileSync, spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { ffmpeg } from '#lab/support/ffmpeg.ts'
import { packagedConverter } from './programs.ts'

const root = mkdtempSync(join(tmpdir(), 'wisp-packaged-'))
const [from, own] = [join(root, 'from'), join(root, 'own')]
const clip = join(from, 'clip.mkv')
let program: readonly string[] = []
beforeAll(async () => {
  mkdirSync(from)
  mkdirSync(own)
  ffmpeg(['-f', 'lavfi', '-i', 'testsrc2=s=64x48:r=10:d=0.5', '-c:v', 'ffv1', clip])
  program = (await packagedConverter())!.ffmpeg
})
afterAll(() => rmSync(root, { recursive: true, force: true }))

const run = (...args: string[]) =>
  spawnSync(program[0]!, [...program.slice(1), '-loglevel', 'error', ...args], { cwd: own, encoding: 'utf8' })

describe('the converter that comes along', () => {
  it('reads the file that it is given and writes into its own folder: the same as ffmpeg does', () => {
    const made = join(own, 'made.yuv')
    expect(run('-i', `file:${clip}`, '-f', 'rawvideo', '-pix_fmt', 'yuv420p', `file:${made}`).status).toBe(0)
    expect(readFileSync(made).equals(ffmpeg(['-i', clip, '-f', 'rawvideo', '-pix_fmt', 'yuv420p', '-']))).toBe(true)
  })

  it('can not write beside the file that it reads, nor reach what lies elsewhere', () => {
    const beside = join(from, 'beside.yuv')
    expect(run('-i', `file:${clip}`, '-f', 'rawvideo', `file:${beside}`).status).not.toBe(0)
    expect(readdirSync(from)).toEqual(['clip.mkv'])
    const secret = join(root, 'secret.txt')
    writeFileSync(secret, 'secret')
    for (const place of [secret, '/etc/passwd', '../secret.txt', '/from/../secret.txt']) {
      const { stdout } = run('-f', 'data', '-i', place, '-map', '0', '-f', 'data', 'file:out.bin')
      expect(stdout).not.toContain('secret')
      expect(existsSync(join(own, 'out.bin')) && readFileSync(join(own, 'out.bin'), 'utf8')).toBeFalsy()
    }
  })

  it('says by its end whether it could', () => {
    writeFileSync(join(from, 'junk.bin'), Buffer.alloc(2000, 7))
    const { status, stderr } = run('-i', `file:${join(from, 'junk.bin')}`, '-f', 'null', '-')
    expect(status).not.toBe(0)
    expect(stderr).toMatch(/Invalid data/)
    expect(String(execFileSync(program[0]!, [...program.slice(1), '-version']))).toMatch(/^ffmpeg version/)
  })
})
