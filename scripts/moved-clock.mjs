// Loaded before a server (node --import) by the fault run: the machine's clock as that server sees it is wrong by CLOCK_SHIFT_MS,
// and is set anew by every message (ms).
const True = Date
let shift_ms = Number(process.env.CLOCK_SHIFT_MS ?? '0')
globalThis.Date = class extends True {
  constructor(...given) {
    if (given.length === 0) super(True.now() + shift_ms)
    else super(...given)
  }
  static now() {
    return True.now() + shift_ms
  }
}
process.on('message', (ms) => {
  shift_ms = ms
  process.send(ms)
})
// Whoever waits for messages keeps the process running; the server's end does not wait for them.
process.channel?.unref()
