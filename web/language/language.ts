import type { Locale } from 'date-fns'
import { fill, speak } from '#core/say.ts'
import { hear, reworded } from './heard.ts'

/** A language beside English: what it is called by itself, its wordings, and its words of dates. */
interface Tongue {
  name: string
  wordings(): Promise<{ default: Record<string, string> }>
  dates(): Promise<Locale>
}

/** Languages that the page speaks. Another one is a file of wordings and an entry here. */
export const languages = {
  en: { name: 'English' },
  de: {
    name: 'Deutsch',
    wordings: () => import('./german.json'),
    dates: async () => (await import('date-fns/locale/de')).de,
  } satisfies Tongue,
}
export type LanguageName = keyof typeof languages
export const languageNames = Object.keys(languages) as LanguageName[]

const kept = 'wisp-language'

/** The language of this page: the one that was chosen, else the first of the browser's that it speaks, else English. */
export const languageName: LanguageName = (() => {
  const wanted = [localStorage.getItem(kept), ...navigator.languages.map((one) => one.slice(0, 2))]
  return wanted.find((one): one is LanguageName => languageNames.some((name) => name === one)) ?? 'en'
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
  const tongue: { name: string } & Partial<Tongue> = languages[languageName]
  if (!tongue.wordings || !tongue.dates) return
  const [{ createI18n }, { default: wordings }, locale] = await Promise.all([
    import('vue-i18n'),
    tongue.wordings(),
    tongue.dates(),
  ])
  const { global } = createI18n({
    legacy: false,
    locale: languageName as string,
    messages: { [languageName]: wordings },
    // The English text itself is the key, with its points, braces and all.
    messageResolver: (_, text) => (Object.hasOwn(wordings, text) ? wordings[text]! : null),
    messageCompiler: (wording) => (context: { values: object }) =>
      fill(String(wording), Object.values(context.values) as string[]),
    fallbackFormat: true,
    missingWarn: false,
    fallbackWarn: false,
  })
  speak({
    wording: (text, values, about) => {
      const special = `${about}: ${text}`
      return global.t(about && Object.hasOwn(wordings, special) ? special : text, values as string[])
    },
    // Titles keep their capitals: nouns have them everywhere.
    amid: (title) => title,
    number: (value, digits) =>
      global.n(value, {
        useGrouping: false,
        minimumFractionDigits: digits ?? 0,
        maximumFractionDigits: digits ?? 20,
      }),
  })
  inLocale = { locale }
  hear(reworded(wordings))
}
