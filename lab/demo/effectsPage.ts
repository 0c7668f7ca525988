import { format } from 'prettier'
import { effectKinds } from '#core/effects/catalogue.ts'
import type { EffectKind } from '#core/effects/effect.ts'
import type { Parameter } from '#core/parameters/parameters.ts'
import { writtenOf } from '#core/parameters/written.ts'
import { blends } from '#core/pixels/colour/blend.ts'

const shown = (p: Parameter & { type: 'number' }, value: number) =>
  `${Number(writtenOf(p, value).toFixed(3))}${p.unit ? ` ${p.unit}` : ''}`
function row(p: Parameter): string {
  const [values, standard] =
    p.type === 'number'
      ? [`${shown(p, p.min)} to ${shown(p, p.max)}`, shown(p, p.default)]
      : p.type === 'choice'
        ? [p.options.map((one) => one.label).join(', '), p.options.find((one) => one.value === p.default)!.label]
        : p.type === 'list'
          ? [`up to ${p.max} of: ${p.of.map((one) => one.label.toLowerCase()).join(', ')}`, `${p.default.length}`]
          : p.type === 'member'
            ? ['a cast member', 'nobody']
            : p.type === 'media'
              ? ['a clip', 'none']
              : p.type === 'tone'
                ? ['a tone curve', 'straight']
                : [p.type, String(p.default) || 'none']
  const moves = (p.type === 'number' || p.type === 'colour') && p.keyed
  const how = moves ? (p.type === 'number' ? 'keys, drive' : 'keys') : ''
  return `| ${p.label} | ${values} | ${standard} | ${how} | ${p.hint} |`
}
/** docs/effects.md: every kind of effect from its description. */
export async function effectsPage(): Promise<string> {
  const kinds = Object.values(effectKinds) as EffectKind[]
  const regions = { bounds: 'bounds where it is seen', source: 'is what it comes from', none: 'none' }
  const page = [
    '# Effects',
    '',
    'Made by `npm run reference` from the descriptions in `core/effects/`; do not edit. Every card has an opacity that can be',
    'keyed or driven, a range of frames with fades, holdouts and one of these blendings:',
    `${Object.values(blends).join(', ')}. Pictures show the card alone on a shot of the demo.`,
    ...[...new Set(kinds.map((kind) => kind.group))].flatMap((group) => [
      '',
      `## ${group}`,
      ...kinds
        .filter((kind) => kind.group === group)
        .flatMap((kind) => [
          '',
          `### ${kind.title}`,
          '',
          `![${kind.title}](../web/public/effects/${kind.kind}.jpg)`,
          '',
          kind.summary,
          '',
          `Rides on: ${kind.rides ? kind.rides.join(', ') : 'nobody'}${kind.rides && kind.alone ? ', or the middle of the picture' : ''}. Region: ${regions[kind.region]}.`,
          '',
          '| Setting | Values | Default | Over time | |',
          '|---|---|---|---|---|',
          ...kind.parameters.map(row),
        ]),
    ]),
    '',
  ]
  return format(page.join('\n'), { parser: 'markdown', printWidth: 120, proseWrap: 'preserve' })
}
