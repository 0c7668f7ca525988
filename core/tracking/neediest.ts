/** A followed frame and how sure it is, 0 to 1. */
interface Sure {
  frame: number
  confidence: number
}

/** Frames on either side that count: a hand on one frame helps those around it. */
const around = 3

/**
 * The frame on which a hand would gain most: where the frames around are least sure, and of those the middle. Null where
 * every frame is at least `unsure`.
 */
export function neediest(frames: readonly Sure[], unsure: number): number | null {
  const lacks = new Map(frames.map(({ frame, confidence }) => [frame, Math.max(0, unsure - confidence)]))
  let best: { from: number; to: number; lack: number } | null = null
  for (const { frame } of frames) {
    if (lacks.get(frame) === 0) continue
    let lack = 0
    for (let by = -around; by <= around; by++) lack += lacks.get(frame + by) ?? 0
    if (best && lack > best.lack - 1e-9 && lack < best.lack + 1e-9 && best.to === frame - 1) best.to = frame
    else if (!best || lack > best.lack) best = { from: frame, to: frame, lack }
  }
  return best && Math.floor((best.from + best.to) / 2)
}
