import type { Shading } from '#core/effects/effect.ts'
import { shadingPrelude } from '#core/effects/shading.ts'
import type { GraphicsCard, GraphicsPass } from '#core/render/graphics.ts'

/** Where a pass works: see {@link Graphics.lay}. */
const frameWgsl = /* wgsl */ `
struct Frame {
  width: u32, height: u32, left: u32, top: u32, wide: u32, high: u32,
  opacity: f32, cell: f32, grid_wide: u32, grid_high: u32,
}
@group(0) @binding(0) var<storage, read_write> picture: array<vec2u>;
@group(0) @binding(1) var<uniform> frame: Frame;
fn unpacked(p: vec2u) -> vec4f { return vec4f(unpack2x16float(p.x), unpack2x16float(p.y)); }
fn packed(c: vec4f) -> vec2u {
  let held = min(c, vec4f(65504.0));
  return vec2u(pack2x16float(held.xy), pack2x16float(held.zw));
}
`
/** What a shading finds beside {@link shadingPrelude}; the picture is linear in half floats. `grid`: whether it fills the grid or reads it. */
const shadingWgsl = (grid: 'read' | 'read_write') => /* wgsl */ `
@group(0) @binding(2) var<storage, read> numbers: array<f32>;
@group(0) @binding(3) var<storage, read> layer: array<vec4f>;
@group(0) @binding(4) var<storage, read> mask: array<f32>;
@group(0) @binding(5) var<storage, read> before: array<vec2u>;
@group(0) @binding(6) var<storage, ${grid}> grid: array<vec4f>;
override masked = false;
override hides = false;
override laid = 0u;

fn field(place: vec2f) -> vec4f {
  let p = vec2u(place) - vec2u(frame.left, frame.top);
  return layer[p.y * frame.wide + p.x];
}
fn within(i: i32, n: i32, border: u32) -> i32 {
  if (i >= 0 && i < n) { return i; }
  if (border == 3u) { return -1; }
  if (border == 0u) { return clamp(i, 0, n - 1); }
  let size = select(2 * n, n, border == 1u);
  let at = ((i % size) + size) % size;
  return select(2 * n - 1 - at, at, at < n);
}
fn pixel(x: i32, y: i32, border: u32) -> vec4f {
  let column = within(x, i32(frame.width), border);
  let row = within(y, i32(frame.height), border);
  if (column < 0 || row < 0) { return vec4f(0.0); }
  return unpacked(before[u32(row) * frame.width + u32(column)]);
}
fn seen(place: vec2f, border: u32) -> vec4f {
  let p = place - 0.5;
  let first = vec2i(floor(p));
  let u = p - floor(p);
  return mix(
    mix(pixel(first.x, first.y, border), pixel(first.x + 1, first.y, border), u.x),
    mix(pixel(first.x, first.y + 1, border), pixel(first.x + 1, first.y + 1, border), u.x),
    u.y,
  );
}
fn grid_start() -> vec2f { return vec2f(f32(frame.left), f32(frame.top)) - frame.cell; }
fn coarse_at(place: vec2f) -> vec4f {
  let g = (place - grid_start()) / frame.cell - 0.5;
  let first = vec2u(floor(g));
  let u = g - floor(g);
  let at = first.y * frame.grid_wide + first.x;
  return mix(
    mix(grid[at], grid[at + 1u], u.x),
    mix(grid[at + frame.grid_wide], grid[at + frame.grid_wide + 1u], u.x),
    u.y,
  );
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
/** Fills the grid with what changes slowly. */
const gridWgsl = /* wgsl */ `
@compute @workgroup_size(16, 16)
fn main(@builtin(global_invocation_id) id: vec3u) {
  if (id.x >= frame.grid_wide || id.y >= frame.grid_high) { return; }
  grid[id.y * frame.grid_wide + id.x] = coarse(grid_start() + (vec2f(id.xy) + 0.5) * frame.cell);
}
`
const handedWgsl = /* wgsl */ `
fn shade(place: vec2f, under: vec4f, hidden: f32) -> vec4f { return field(place); }
`
/** Words of a picture to working values, and `back`. */
const wordsWgsl = /* wgsl */ `
@group(0) @binding(2) var<storage, read_write> words: array<u32>;
override linear_light = true;
override back = false;
fn level(v: f32) -> u32 {
  let held = clamp(v, 0.0, 1.0);
  return u32(floor(255.0 * select(held, encoded(held), linear_light) + 0.5));
}
@compute @workgroup_size(256)
fn main(@builtin(global_invocation_id) id: vec3u, @builtin(num_workgroups) groups: vec3u) {
  let at = id.y * groups.x * 256u + id.x;
  if (at >= frame.width * frame.height) { return; }
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

/** What is run on a card: words to values and back, a shading, or its slow part in cells. */
type Work = 'words' | 'lay' | 'grid'
function codeOf(what: Work, wgsl: string): string {
  if (what === 'words') return frameWgsl + shadingPrelude + wordsWgsl
  const [grid, main] = what === 'grid' ? (['read_write', gridWgsl] as const) : (['read', layWgsl] as const)
  return frameWgsl + shadingWgsl(grid) + shadingPrelude + wgsl + main
}

type Numbers = Uint8Array | Uint32Array | Float32Array

/** A graphics card that draws the effects of a frame, through WebGPU; for a worker. */
export class Graphics implements GraphicsCard {
  /** Kinds that it draws unlike the core does. */
  readonly unproven = new Set<string>()
  /** Is called once when the card is gone by itself: it draws nothing from then on. */
  onLost: () => void = () => {}
  private isGone = false
  private readonly device: GPUDevice
  private readonly layouts: Record<Work, GPUBindGroupLayout>
  private readonly pipelines = new Map<string, GPUComputePipeline>()
  private readonly buffers = new Map<string, GPUBuffer>()
  private size = { width: 0, height: 0 }

  /** Throws an Error where there is no card, or it is refused. */
  static async start(): Promise<Graphics> {
    const adapter = await navigator.gpu?.requestAdapter({ powerPreference: 'high-performance' })
    if (!adapter) throw new Error('There is no graphics card that WebGPU reaches.')
    const { maxStorageBufferBindingSize, maxBufferSize } = adapter.limits
    return new Graphics(await adapter.requestDevice({ requiredLimits: { maxStorageBufferBindingSize, maxBufferSize } }))
  }

  private constructor(device: GPUDevice) {
    this.device = device
    device.lost.then(
      () => this.fail(),
      () => this.fail(),
    )
    const layoutOf = (types: Record<number, GPUBufferBindingType>) =>
      device.createBindGroupLayout({
        entries: Object.entries(types).map(([binding, type]) => ({
          ...{ binding: Number(binding), visibility: computeStage, buffer: { type } },
        })),
      })
    const read = 'read-only-storage'
    this.layouts = {
      words: layoutOf({ 0: 'storage', 1: 'uniform', 2: 'storage' }),
      lay: layoutOf({ 0: 'storage', 1: 'uniform', 2: read, 3: read, 4: read, 5: read, 6: read }),
      grid: layoutOf({ 1: 'uniform', 2: read, 6: 'storage' }),
    }
  }

  /** Whether it draws no more. */
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

  /**
   * Draws onto a plate (words of a picture that is all opaque) what `layOn` lays on it, and gives the words of that; null where `layOn`
   * says that nothing came of it. Throws what `layOn` throws, and rejects where the card is gone or could not do it. Others may be drawn
   * meanwhile.
   */
  draw(
    words: Uint32Array,
    size: { width: number; height: number },
    light: 'linear' | 'display',
    layOn: () => boolean,
  ): Promise<Uint32Array> | null {
    const { device } = this
    const errors: Promise<GPUError | null>[] = []
    let read: GPUBuffer | null = null
    for (const filter of troubles) device.pushErrorScope(filter)
    try {
      this.size = { width: size.width, height: size.height }
      this.written('words', words)
      this.convert(light, false)
      if (layOn()) {
        this.convert(light, true)
        read = device.createBuffer({ size: words.byteLength, usage: usages.read | usages.copyTo })
        const copy = read
        this.submit((encoder) =>
          encoder.copyBufferToBuffer(this.buffer('words', words.byteLength), 0, copy, 0, words.byteLength),
        )
      }
    } finally {
      for (const _ of troubles) errors.push(device.popErrorScope())
    }
    const errorsOf = Promise.all(errors)
    // Where nothing was drawn nobody asks for them.
    errorsOf.catch(() => {})
    return read && wordsFrom(read, errorsOf)
  }

  lay({ bounds, source, mask, hides, laid, opacity }: GraphicsPass): void {
    const { size } = this
    const { x, y, width, height } = bounds
    const handed = source instanceof Float32Array
    const shading: Shading = handed ? { wgsl: handedWgsl, numbers: [], work: 0, field: () => source } : source
    const { wgsl, numbers, field, cell = 0, looks = false } = shading
    const [wide, high] = cell ? [Math.ceil(width / cell) + 3, Math.ceil(height / cell) + 3] : [0, 0]
    const uniform = new ArrayBuffer(48)
    new Uint32Array(uniform).set([size.width, size.height, x, y, width, height, 0, 0, wide, high])
    new Float32Array(uniform).set([opacity, cell], 6)
    const pictureBytes = 8 * size.width * size.height
    const picture = this.buffer('picture', pictureBytes)
    const before = this.buffer('before', looks ? pictureBytes : 0)
    if (looks) this.submit((encoder) => encoder.copyBufferToBuffer(picture, 0, before, 0, pictureBytes))
    const frame = this.written('frame', new Uint8Array(uniform), usages.uniform)
    const given = this.written('numbers', handed ? nothing : Float32Array.from(numbers))
    const grid = this.buffer('grid', 16 * wide * high)
    if (cell) {
      this.run('grid', wgsl, {}, { 1: frame, 2: given, 6: grid }, [Math.ceil(wide / 16), Math.ceil(high / 16)])
    }
    const constants = { masked: mask ? 1 : 0, hides: hides ? 1 : 0, laid: laidAs[laid] }
    const buffers = {
      ...{ 0: picture, 1: frame, 2: given, 3: this.written('layer', field?.() ?? nothing) },
      ...{ 4: this.written('mask', mask ?? nothing), 5: before, 6: grid },
    }
    this.run('lay', wgsl, constants, buffers, [Math.ceil(width / 16), Math.ceil(height / 16)])
  }

  /** Gives the card back. */
  close(): void {
    this.isGone = true
    this.device.destroy()
  }
  /** The card is gone, or has failed. */
  fail(): void {
    if (this.isGone) return
    this.close()
    this.onLost()
  }

  private convert(light: 'linear' | 'display', back: boolean): void {
    const count = this.size.width * this.size.height
    // No more than 65,535 groups along a side.
    const groups = Math.ceil(count / 256)
    const across = Math.min(groups, 4096)
    const uniform = new Uint8Array(48)
    new Uint32Array(uniform.buffer).set([this.size.width, this.size.height])
    this.run(
      'words',
      '',
      { linear_light: light === 'linear' ? 1 : 0, back: back ? 1 : 0 },
      {
        ...{ 0: this.buffer('picture', 8 * count), 1: this.written('frame', uniform, usages.uniform) },
        2: this.buffer('words', 4 * count),
      },
      [across, Math.ceil(groups / across)],
    )
  }

  private run(
    what: Work,
    wgsl: string,
    constants: Record<string, number>,
    buffers: Record<number, GPUBuffer>,
    groups: [number, number],
  ): void {
    const { device } = this
    const layout = this.layouts[what]
    const entries = Object.entries(buffers).map(([binding, buffer]) => ({
      ...{ binding: Number(binding), resource: { buffer } },
    }))
    const group = device.createBindGroup({ layout, entries })
    this.submit((encoder) => {
      const pass = encoder.beginComputePass()
      pass.setPipeline(this.pipeline(what, wgsl, constants))
      pass.setBindGroup(0, group)
      pass.dispatchWorkgroups(...groups)
      pass.end()
    })
  }

  private submit(record: (encoder: GPUCommandEncoder) => void): void {
    const encoder = this.device.createCommandEncoder()
    record(encoder)
    this.device.queue.submit([encoder.finish()])
  }

  private pipeline(what: Work, wgsl: string, constants: Record<string, number>): GPUComputePipeline {
    const name = `${what} ${JSON.stringify(constants)} ${wgsl}`
    const known = this.pipelines.get(name)
    if (known) return known
    const { device } = this
    const module = device.createShaderModule({ code: codeOf(what, wgsl) })
    const made = device.createComputePipeline({
      layout: device.createPipelineLayout({ bindGroupLayouts: [this.layouts[what]] }),
      compute: { module, constants },
    })
    this.pipelines.set(name, made)
    return made
  }

  /** A buffer of at least so many bytes, the same for a name as long as it is large enough. */
  private buffer(name: string, bytes: number, usage: number = usages.storage): GPUBuffer {
    const known = this.buffers.get(name)
    if (known && known.size >= bytes) return known
    // What is submitted goes on with it.
    known?.destroy()
    const made = this.device.createBuffer({
      size: Math.ceil(Math.max(48, bytes) / 16) * 16,
      usage: usage | usages.copyTo | usages.copyFrom,
    })
    this.buffers.set(name, made)
    return made
  }

  /** The same, with bytes in it. What is submitted already has read what was in it before. */
  private written(name: string, bytes: Numbers, usage?: number): GPUBuffer {
    const buffer = this.buffer(name, bytes.byteLength, usage)
    this.device.queue.writeBuffer(buffer, 0, bytes as Uint8Array<ArrayBuffer>)
    return buffer
  }
}

/** Words that a card has put into a buffer; the buffer is given back. */
async function wordsFrom(buffer: GPUBuffer, errors: Promise<(GPUError | null)[]>): Promise<Uint32Array> {
  try {
    const error = (await errors).find((one) => one !== null)
    if (error) throw new Error(error.message)
    await buffer.mapAsync(usages.read)
    return new Uint32Array(buffer.getMappedRange().slice(0))
  } finally {
    buffer.destroy()
  }
}

/** What may go wrong on a card while it draws. */
const troubles = ['validation', 'out-of-memory', 'internal'] as const
const nothing = new Float32Array(4)
