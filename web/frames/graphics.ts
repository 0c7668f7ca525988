import { shadingPrelude } from '#core/effects/shading.ts'
import type { GraphicsCard, GraphicsPass } from '#core/render/graphics.ts'

/** What a shading finds beside {@link shadingPrelude}, and how what it gives is laid onto the picture, which is linear in half floats. */
const frameWgsl = /* wgsl */ `
struct Frame { width: u32, left: u32, top: u32, wide: u32, high: u32, opacity: f32 }
@group(0) @binding(0) var<storage, read_write> picture: array<vec2u>;
@group(0) @binding(1) var<uniform> frame: Frame;
@group(0) @binding(2) var<storage, read> numbers: array<f32>;
@group(0) @binding(3) var<storage, read> layer: array<vec4f>;
@group(0) @binding(4) var<storage, read> mask: array<f32>;
override masked: bool;
override hides: bool;
override laid: u32;

fn unpacked(p: vec2u) -> vec4f { return vec4f(unpack2x16float(p.x), unpack2x16float(p.y)); }
fn packed(c: vec4f) -> vec2u {
  let held = min(c, vec4f(65504.0));
  return vec2u(pack2x16float(held.xy), pack2x16float(held.zw));
}
`
/** Lays what a shading gives: Over, Add or Screen, as the core's rows of them. */
const layWgsl = /* wgsl */ `
@compute @workgroup_size(16, 16)
fn main(@builtin(global_invocation_id) id: vec3u) {
  if (id.x >= frame.wide || id.y >= frame.high) { return; }
  let place = vec2u(frame.left + id.x, frame.top + id.y);
  let at = place.y * frame.width + place.x;
  let under = unpacked(picture[at]);
  var there = 1.0;
  if (masked) { there = mask[id.y * frame.wide + id.x]; }
  let source = shade(vec2f(place) + 0.5, under, select(0.0, there, hides && masked));
  let given = source * frame.opacity * select(there, 1.0, hides);
  var out = under;
  if (laid == 0u) {
    out = under * (1.0 - given.a) + given;
  } else if (laid == 1u) {
    out = under + given;
    out.a = min(out.a, 1.0);
  } else {
    out = select(under, under + min(given, vec4f(1.0)) * (1.0 - under), (given > vec4f(0.0)) & (under < vec4f(1.0)));
  }
  picture[at] = packed(out);
}
`
const handedWgsl = /* wgsl */ `
fn shade(place: vec2f, under: vec4f, hidden: f32) -> vec4f {
  let p = vec2u(place) - vec2u(frame.left, frame.top);
  return layer[p.y * frame.wide + p.x];
}
`
/** Words of a picture to working values and back; `laid` 1 where they stand for linear light. */
const wordsWgsl = /* wgsl */ `
@group(0) @binding(2) var<storage, read_write> words: array<u32>;
override linear_light: bool;
override back: bool;
fn level(v: f32) -> u32 {
  let held = clamp(v, 0.0, 1.0);
  return u32(floor(255.0 * select(held, encoded(held), linear_light) + 0.5));
}
@compute @workgroup_size(256)
fn main(@builtin(global_invocation_id) id: vec3u, @builtin(num_workgroups) groups: vec3u) {
  let at = id.y * groups.x * 256u + id.x;
  if (at >= arrayLength(&words)) { return; }
  if (back) {
    let c = unpacked(picture[at]);
    words[at] = 0xff000000u | (level(c.b) << 16u) | (level(c.g) << 8u) | level(c.r);
    return;
  }
  let word = words[at];
  let c = vec3f(vec3u(word & 255u, (word >> 8u) & 255u, (word >> 16u) & 255u)) / 255.0;
  picture[at] = packed(vec4f(select(c, vec3f(linear(c.r), linear(c.g), linear(c.b)), linear_light), 1.0));
}
`

/** Flags of W3C WebGPU (https://www.w3.org/TR/webgpu/), which TypeScript does not know by name. */
const usages = { read: 0x1, copyFrom: 0x4, copyTo: 0x8, uniform: 0x40, storage: 0x80 } as const
const computeStage = 0x4

const laidAs = { normal: 0, add: 1, screen: 2 } as const

/** A graphics card that draws the effects of a frame, through WebGPU; for a worker. */
export class Graphics implements GraphicsCard {
  /** Kinds that it draws unlike the core does. */
  readonly unproven = new Set<string>()
  /** Is called once when the card is gone: it draws nothing from then on. */
  onLost: () => void = () => {}
  private isGone = false
  private readonly device: GPUDevice
  private readonly layout: GPUBindGroupLayout
  private readonly wordsLayout: GPUBindGroupLayout
  private readonly pipelines = new Map<string, GPUComputePipeline>()
  private readonly buffers = new Map<string, GPUBuffer>()
  private size = { width: 0, height: 0 }
  private light: 'linear' | 'display' = 'linear'

  /** Throws an Error where there is no card, or it is refused. */
  static async start(): Promise<Graphics> {
    const adapter = await navigator.gpu?.requestAdapter({ powerPreference: 'high-performance' })
    if (!adapter) throw new Error('There is no graphics card that WebGPU reaches.')
    const { maxStorageBufferBindingSize, maxBufferSize } = adapter.limits
    return new Graphics(await adapter.requestDevice({ requiredLimits: { maxStorageBufferBindingSize, maxBufferSize } }))
  }

  private constructor(device: GPUDevice) {
    this.device = device
    const gone = () => {
      if (this.isGone) return
      this.isGone = true
      this.onLost()
    }
    device.lost.then(gone, gone)
    device.addEventListener('uncapturederror', ({ error }) => {
      console.error(error.message)
      device.destroy()
      gone()
    })
    const layoutOf = (...types: GPUBufferBindingType[]) =>
      device.createBindGroupLayout({
        entries: types.map((type, binding) => ({ binding, visibility: computeStage, buffer: { type } })),
      })
    this.layout = layoutOf('storage', 'uniform', 'read-only-storage', 'read-only-storage', 'read-only-storage')
    this.wordsLayout = layoutOf('storage', 'uniform', 'storage')
  }

  get gone(): boolean {
    return this.isGone
  }

  /** Whether a picture has room on it. */
  holds({ width, height }: { width: number; height: number }): boolean {
    return 16 * width * height <= this.device.limits.maxStorageBufferBindingSize
  }

  proven(kind: string): boolean {
    return !this.unproven.has(kind)
  }

  /** Begins with a plate: words of a picture that is all opaque. */
  begin(words: Uint32Array, size: { width: number; height: number }, light: 'linear' | 'display'): void {
    Object.assign(this, { size, light })
    this.written('words', words, usages.copyFrom)
    this.convert(false)
  }

  lay({ bounds, source, mask, hides, laid, opacity }: GraphicsPass): void {
    const { device, size } = this
    const { x, y, width, height } = bounds
    const isHanded = source instanceof Float32Array
    const uniform = new ArrayBuffer(32)
    new Uint32Array(uniform).set([size.width, x, y, width, height])
    new Float32Array(uniform)[5] = opacity
    const buffers = [
      this.buffer('picture', 8 * size.width * size.height),
      this.written('frame', new Uint8Array(uniform), usages.uniform),
      this.written('numbers', isHanded ? nothing : new Float32Array(source.numbers)),
      this.written('layer', isHanded ? source : nothing),
      this.written('mask', mask ?? nothing),
    ]
    const pipeline = this.pipeline(isHanded ? handedWgsl : source.wgsl, layWgsl, this.layout, {
      ...{ masked: mask ? 1 : 0, hides: hides ? 1 : 0, laid: laidAs[laid] },
    })
    const encoder = device.createCommandEncoder()
    const pass = encoder.beginComputePass()
    pass.setPipeline(pipeline)
    pass.setBindGroup(0, this.group(this.layout, buffers))
    pass.dispatchWorkgroups(Math.ceil(width / 16), Math.ceil(height / 16))
    pass.end()
    device.queue.submit([encoder.finish()])
  }

  /** The picture as it is now, as words; rejects where the card is gone. Another may be begun meanwhile. */
  async end(): Promise<Uint32Array> {
    const { device, size } = this
    const bytes = 4 * size.width * size.height
    this.convert(true)
    const read = device.createBuffer({ size: bytes, usage: usages.read | usages.copyTo })
    const encoder = device.createCommandEncoder()
    encoder.copyBufferToBuffer(this.buffer('words', bytes), 0, read, 0, bytes)
    device.queue.submit([encoder.finish()])
    try {
      await read.mapAsync(usages.read)
      return new Uint32Array(read.getMappedRange().slice(0))
    } finally {
      read.destroy()
    }
  }

  /** Gives the card back. */
  close(): void {
    this.isGone = true
    this.device.destroy()
  }

  private convert(back: boolean): void {
    const { device, size, light } = this
    const count = size.width * size.height
    const pipeline = this.pipeline('', wordsWgsl, this.wordsLayout, {
      ...{ linear_light: light === 'linear' ? 1 : 0, back: back ? 1 : 0 },
    })
    const buffers = [
      this.buffer('picture', 8 * count),
      this.written('frame', new Uint8Array(32), usages.uniform),
      this.buffer('words', 4 * count),
    ]
    const encoder = device.createCommandEncoder()
    const pass = encoder.beginComputePass()
    pass.setPipeline(pipeline)
    pass.setBindGroup(0, this.group(this.wordsLayout, buffers, 4 * count))
    // No more than 65,535 groups along a side.
    const groups = Math.ceil(count / 256)
    const across = Math.min(groups, 4096)
    pass.dispatchWorkgroups(across, Math.ceil(groups / across))
    pass.end()
    device.queue.submit([encoder.finish()])
  }

  private pipeline(
    shading: string,
    body: string,
    layout: GPUBindGroupLayout,
    constants: Record<string, number>,
  ): GPUComputePipeline {
    const name = JSON.stringify([shading, body, constants])
    const known = this.pipelines.get(name)
    if (known) return known
    const frame = body === wordsWgsl ? wordsFrame : frameWgsl
    const module = this.device.createShaderModule({ code: frame + shadingPrelude + shading + body })
    const made = this.device.createComputePipeline({
      layout: this.device.createPipelineLayout({ bindGroupLayouts: [layout] }),
      compute: { module, constants },
    })
    this.pipelines.set(name, made)
    return made
  }

  /** `last`: bytes of the last buffer, where no more of it may be seen. */
  private group(layout: GPUBindGroupLayout, buffers: GPUBuffer[], last?: number): GPUBindGroup {
    const entries = buffers.map((buffer, binding) => ({
      binding,
      resource: { buffer, ...(last !== undefined && binding === buffers.length - 1 ? { size: last } : {}) },
    }))
    return this.device.createBindGroup({ layout, entries })
  }

  /** A buffer of at least so many bytes, the same for a name as long as it is large enough. */
  private buffer(name: string, bytes: number, usage: number = usages.storage): GPUBuffer {
    const known = this.buffers.get(name)
    if (known && known.size >= bytes) return known
    known?.destroy()
    const made = this.device.createBuffer({
      size: Math.ceil(Math.max(16, bytes) / 16) * 16,
      usage: usage | usages.copyTo | usages.copyFrom,
    })
    this.buffers.set(name, made)
    return made
  }

  /** The same, with bytes in it. What is submitted already has read what was in it before. */
  private written(name: string, bytes: Uint8Array | Uint32Array | Float32Array, usage?: number): GPUBuffer {
    const buffer = this.buffer(name, bytes.byteLength, usage === undefined ? undefined : usage | usages.storage)
    this.device.queue.writeBuffer(buffer, 0, bytes as Uint8Array<ArrayBuffer>)
    return buffer
  }
}

const nothing = new Float32Array(4)
/** Of what a pass finds, what a conversion does, too. */
const wordsFrame = frameWgsl
  .split('\n')
  .filter((line) => !/binding\([234]\)|^override/.test(line))
  .join('\n')
