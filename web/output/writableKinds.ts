import { type FileKind, fileKinds } from '#core/outgoing/forms.ts'

/** Codec strings by which a browser is asked whether it encodes so (HEVC Main, AV1 Main; ISO/IEC 14496-15 and the AV1 binding). */
const asked: Partial<Record<FileKind, string>> = { hevc: 'hev1.1.6.L123.B0', av1: 'av01.0.08M.08' }

/** The kinds that this browser can write. */
export async function writableKinds(): Promise<FileKind[]> {
  const can = async (kind: FileKind) => {
    const codec = asked[kind]
    if (!codec) return true
    if (typeof VideoEncoder === 'undefined') return false
    const { supported } = await VideoEncoder.isConfigSupported({ codec, width: 1280, height: 720 })
    return supported === true
  }
  const well = await Promise.all(fileKinds.map((kind) => can(kind).catch(() => false)))
  return fileKinds.filter((_, i) => well[i])
}
