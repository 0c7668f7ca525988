/** A zip of one entry, written by hand (APPNOTE 6.3.10, 4.3), that claims to be so large, so many times; `ending`: three letters. */
export function claimingZip(
  packed: number,
  unpacked: number,
  data: Uint8Array,
  times = 1,
  method = 0,
  ending = 'png',
): Buffer {
  const name = (i: number) => Buffer.from(`${String(i).padStart(5, '0')}.${ending}`)
  const sizes = Buffer.alloc(12)
  sizes.writeUInt32LE(packed, 4)
  sizes.writeUInt32LE(unpacked, 8)
  const local = Buffer.alloc(30)
  local.writeUInt32LE(0x04034b50)
  local.writeUInt16LE(method, 8)
  sizes.copy(local, 14)
  local.writeUInt16LE(9, 26)
  const entries = Array.from({ length: times }, (_, i) => {
    const central = Buffer.alloc(46)
    central.writeUInt32LE(0x02014b50)
    central.writeUInt16LE(method, 10)
    sizes.copy(central, 16)
    central.writeUInt16LE(9, 28)
    return Buffer.concat([central, name(i)])
  })
  const head = Buffer.concat([local, name(0), data])
  const list = Buffer.concat(entries)
  const end = Buffer.alloc(22)
  end.writeUInt32LE(0x06054b50)
  end.writeUInt16LE(times, 8)
  end.writeUInt16LE(times, 10)
  end.writeUInt32LE(list.length, 12)
  end.writeUInt32LE(head.length, 16)
  return Buffer.concat([head, list, end])
}
