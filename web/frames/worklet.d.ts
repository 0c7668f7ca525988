/** The address of a module that is built as a worker of its own. */
declare module '*?worker&url' {
  const address: string
  export default address
}
