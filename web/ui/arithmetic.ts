/**
 * Value of what was typed into a number field: a number, or numbers with + - * / and parentheses, as "12*1.5".
 * Comma counts as the decimal point; a unit behind the last number is passed over. Null where it can not be read.
 */
export function arithmetic(typed: string): number | null {
  const text = typed
    .replace(/,/g, '.')
    .replace(/(px|%|°|×|frames?|f|stops?|st|K)\s*$/i, '')
    .replace(/\s+/g, '')
    .replace(/−/g, '-')
  let at = 0
  const sum = (): number => {
    let value = product()
    for (; text[at] === '+' || text[at] === '-';) value = text[at++] === '+' ? value + product() : value - product()
    return value
  }
  const product = (): number => {
    let value = factor()
    for (; text[at] === '*' || text[at] === '/';) value = text[at++] === '*' ? value * factor() : value / factor()
    return value
  }
  const factor = (): number => {
    if (text[at] === '-') return (at++, -factor())
    if (text[at] === '(') {
      at++
      const value = sum()
      return text[at++] === ')' ? value : NaN
    }
    const number = /^(\d+\.?\d*|\.\d+)/.exec(text.slice(at))
    if (!number) return NaN
    at += number[0].length
    return Number(number[0])
  }
  const value = sum()
  return at === text.length && Number.isFinite(value) ? value : null
}
