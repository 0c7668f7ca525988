// Inner loops of the pixel work as WebAssembly with SIMD, in AssemblyScript (https://www.assemblyscript.org).
// Each does what its namesake in core/pixels/kernels/plain.ts does in plain TypeScript, which stays as fallback and as the
// tests' oracle. Pointers are byte addresses in the one memory that holds every buffer; counts are in elements.

export * from './light'
export * from './codes'
export * from './numbers'
export * from './pictures'
export * from './rods'
