import type { Locale } from 'date-fns'
import { fill, speak } from '#core/say.ts'
import { hear, reworded } from './heard.ts'

/** Languages that the page speaks, each under its own name. */
export const languages = { en: 'English', de: 'Deutsch' } as const
export type LanguageName = keyof typeof languages

const kept = 'wisp-language'
const isLanguage = (name: string | null | undefined): name is LanguageName => !!name && name in languages

/** The language of this page: the one that was chosen, else the first of the browser's that it speaks, else English. */
export const languageName: LanguageName = (() => {
  const chosen = localStorage.getItem(kept)
  if (isLanguage(chosen)) return chosen
  return navigator.languages.map((one) => one.slice(0, 2)).find(isLanguage) ?? 'en'
})()

/** Speaks another language from now on. The page is read anew, as its tables of texts are read once. */
export function chooseLanguage(name: LanguageName): void {
  localStorage.setItem(kept, name)
  location.reload()
}

/** For dates: in whose words they are. */
export let inLocale: { locale?: Locale } = {}
/** Begins to speak; before any other part of the page is imported. */
export async function beginToSpeak(): Promise<void> {
  document.documentElement.lang = languageName
  if (languageName === 'en') return
  const [{ createI18n }, { default: wordings }, { de }] = await Promise.all([
    import('vue-i18n'),
    import('./german.json'),
    import('date-fns/locale/de'),
  ])
  const messages: Record<string, string> = wordings
  const { global } = createI18n({
    legacy: false,
    locale: languageName,
    messages: { [languageName]: messages },
    // The English text itself is the key, with its points, braces and all.
    messageResolver: (_, text) => messages[text] ?? null,
    messageCompiler: (wording) => (context: { values: object }) =>
      fill(String(wording), Object.values(context.values) as string[]),
    fallbackFormat: true,
    missingWarn: false,
    fallbackWarn: false,
  })
  speak({
    wording: (text, values, about) => {
      const special = about && `${about}: ${text}`
      return global.t(special && special in messages ? special : text, values as string[])
    },
    number: (value, digits = 20) =>
      global.n(value, {
        ...{ useGrouping: false, maximumFractionDigits: digits },
        minimumFractionDigits: digits === 20 ? 0 : digits,
      }),
  })
  inLocale = { locale: de }
  hear(reworded(messages))
}
