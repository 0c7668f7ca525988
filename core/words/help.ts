import { say } from '../say.ts'
import { soughtIn } from './sought.ts'
import { type Word, wordName, words } from './words.ts'

/** What somebody wants or wonders, and what to do. */
export interface Answer {
  asks: string
  says: string
  /** By what else somebody looks for it. */
  words?: string
}

export const answersByChapter: { chapter: string; answers: Answer[] }[] = [
  {
    chapter: say`Beginning`,
    answers: [
      {
        asks: say`How do I make my first blade?`,
        says: say`Bring a clip in under Footage. In Trace take the rod tool, click the heel of the prop and then its tip, step on and do it again; or let it be followed from the first frame. In Effects press add and choose Blade. Output makes a file of it.`,
        words: say`start first begin tutorial sword laser`,
      },
      {
        asks: say`Which files can I bring in?`,
        says: say`Videos of phones and cameras, stills, numbered picture sequences or a zip of one, and sounds: drop them on Footage or on the shelf. What the browser can not show truly is converted by itself, with its progress on the row.`,
        words: say`import format mp4 mov hevc prores avi codec png`,
      },
      {
        asks: say`I want only a piece of my clip`,
        says: say`Under Footage drag the two ends on the shot’s filmstrip. What is outside is only not shown: traced frames stay on their picture and come back when you widen it.`,
        words: say`trim cut shorten in out`,
      },
      {
        asks: say`Is anything sent anywhere?`,
        says: say`No. Pictures, sounds and what you trace stay on this machine; suggestions are computed here, too. Every change is kept by itself.`,
        words: say`privacy cloud upload save internet`,
      },
      {
        asks: say`How do I give the work to somebody else?`,
        says: say`On the shelf, the project’s menu takes it out as one file, with its clips or without; dropping that file on another shelf opens it there. Mattes, shapes and tracks go out under Output.`,
        words: say`export share move backup copy project`,
      },
    ],
  },
  {
    chapter: say`Tracing`,
    answers: [
      {
        asks: say`On which frames do I need keys?`,
        says: say`Where the motion stops, turns or changes its speed, and then halfway between where it is still off. The key plan finds these frames in the picture and leads to them one by one; fast motion needs a key on every frame.`,
        words: say`keyframe how many where plan`,
      },
      {
        asks: say`The in-between runs straight, but my prop swings`,
        says: say`Choose arc under In-between: it turns with the swing and keeps its length. Eased slows down at the keys, held stays until the next one.`,
        words: say`interpolation curve shrinks shorter easing`,
      },
      {
        asks: say`My shape drifts away from the prop`,
        says: say`Go to the frame where it is worst and drag it right: that is a key, and following beside it is done anew with one press. Frames that are not sure carry a notch, and Worth a look lists them.`,
        words: say`tracking wrong follow slips lost`,
      },
      {
        asks: say`Following stops or loses my prop`,
        says: say`Small, blurred or turning things are hard to see. Set a key where it stopped and follow on from there; where the prop is hidden mark it away; tell it what to look past, or how it moves, in the panel Follow.`,
        words: say`tracker fails stops blurred fast`,
      },
      {
        asks: say`My prop leaves the picture`,
        says: say`Shapes may lie outside: zoom out and click its ends where they would be. Where nothing of it is to be seen for some frames, mark it away, on one frame or over a chosen range.`,
        words: say`outside edge offscreen border hidden`,
      },
      {
        asks: say`Somebody walks in front of it`,
        says: say`Trace who is in front as a member of its own, and choose that one as behind whom on the effect’s card: the effect is cut there with a soft edge.`,
        words: say`holdout occlusion behind hidden mask head covers`,
      },
      {
        asks: say`How do I trace a whole person?`,
        says: say`As many parts: add Performer with limbs to the cast, and give head, torso, arms and legs an outline each: the tool stays in hand from one to the next, and Shift G follows all of them at one press. Keys are few when each part moves simply; parts ride on others. Or paint a matte with two strokes and carry it.`,
        words: say`body actor roto silhouette limbs people`,
      },
      {
        asks: say`Can it find the person by itself?`,
        says: say`Suggestions in the cast look for people, faces and hands in the picture. Painting a matte takes a stroke over what is wanted and one over what is not.`,
        words: say`automatic ai detect mask matte`,
      },
      {
        asks: say`Move or change all keys at once`,
        says: say`Edits count on, at the part’s settings: this frame, all keys, a chosen range, or fading out over some frames. Then drag or nudge as ever.`,
        words: say`whole track offset shift everything`,
      },
      {
        asks: say`Change or delete a range of frames`,
        says: say`Sweep over the lane with Shift, or choose a range of frames and type from and to. Its keys can be moved by a bead, stretched at its end, thinned out, removed, or marked away.`,
        words: say`select several keys section`,
      },
      {
        asks: say`How do I compare two neighbouring frames?`,
        says: say`Hold X for the frame before in place, or look at the change between both; N shows the neighbouring shapes, Shift N the neighbouring frames beside each other, Z a loupe, H holds the part still while the picture moves.`,
        words: say`flip onion skin difference stabilise`,
      },
      {
        asks: say`I want the picture larger, or on another monitor`,
        says: say`U hides everything but the picture. How the view is shown, above it, opens it in a second window: drag that to the other monitor and click it twice. Panels are drawn narrower at their lines and folded at both ends of the bar.`,
        words: say`fullscreen external display dual screen preview zoom small`,
      },
      {
        asks: say`It takes too much memory, or frames come slowly again and again`,
        says: say`How the view is shown, above the picture, says how much memory the pictures of this shot take, and how much they may take at most: less of it where the machine is short of it, more where a long shot is to stay ready.`,
        words: say`ram cache slow budget large 4k long clip swap`,
      },
      {
        asks: say`My outline jitters`,
        says: say`Fewer keys are calmer: choose the range and thin it out within a pixel or two. Set keys where the motion changes, not where the hand shook.`,
        words: say`chatter tremble noise shaky smooth boiling`,
      },
      {
        asks: say`The edge of my matte is too hard, too wide`,
        says: say`Feather softens the part’s edge, grow moves it in or out; a point’s own edge fades when it is dragged with Ctrl. Look at it as a matte and as a cut-out.`,
        words: say`soften shrink expand choke blur edge`,
      },
    ],
  },
  {
    chapter: say`Effects`,
    answers: [
      {
        asks: say`My blade is cut off at the edge`,
        says: say`Its tip ends where the rod was traced: zoom out and drag the tip to where it would be outside the picture, or give the rod more reach. Light is computed beyond the edges by itself.`,
        words: say`clipped border frame missing glow offscreen`,
      },
      {
        asks: say`My blade is too short`,
        says: say`Give the rod a reach: it goes on past the tip by as many pixels. More reach on the card does the same for one blade alone.`,
        words: say`longer length extend tip`,
      },
      {
        asks: say`Light the blade up, put it out`,
        says: say`Lit length on the blade’s card burns from the heel up: set a key at 0 % where it begins and at 100 % where it is lit. The lane below shapes how fast.`,
        words: say`ignite extend retract turn on off animate`,
      },
      {
        asks: say`The blade looks painted on, not like light`,
        says: say`Lay it on with Add or Screen, keep its core white, let the halos be wide and weak, add a cast light on the faces near it, and leave the smear at the camera’s own 180°.`,
        words: say`fake realistic flat glow brighter`,
      },
      {
        asks: say`Its light should fall on faces and hands`,
        says: say`Add Cast light and choose whose prop it comes from: it takes colour, strength and lit length from the blade on that prop, and falls on the picture by what is near.`,
        words: say`illuminate interactive reflection lamp`,
      },
      {
        asks: say`A flash where two props meet`,
        says: say`Add Contact flash and choose the two members: the frames of contact are found in what is traced, and it is dark before and two frames after. Its frames can also be named.`,
        words: say`clash impact hit spark contact`,
      },
      {
        asks: say`Blur or darken all but the performer`,
        says: say`Add a blur or Grade, and let it work on everything outside the performer: the word in its sentence says inside, outside or everywhere.`,
        words: say`background isolate surroundings bokeh focus mask`,
      },
      {
        asks: say`A ring of the performer stays around the blurred surroundings`,
        says: say`What blurs surroundings works on a picture without the performer. Make a clean plate in Trace (look at Clean) for what truly stands behind, and widen the feather of the part a little.`,
        words: say`halo ghost rim edge fringe hole`,
      },
      {
        asks: say`Put a picture, a logo or a clip into the scene`,
        says: say`Bring it in under Footage, add Insert and choose it; on a pin it lies in perspective, behind whom the sentence says.`,
        words: say`image photo overlay screen replace sign video`,
      },
      {
        asks: say`Something should change over time`,
        says: say`Press the bead beside a number: that is a key on this frame. Step on, change the number, and the next one is there; the lane below draws the curve. Or drive it by the motion.`,
        words: say`animate keyframe fade ramp curve`,
      },
      {
        asks: say`Brighter when it moves faster`,
        says: say`The sign of a pulse beside a number drives it: by speed, angle, length, distance, contact or loudness, scaled as you like.`,
        words: say`drive expression link audio reactive motion`,
      },
      {
        asks: say`Slow motion, a freeze, backwards`,
        says: say`The first card in Effects is time: hold a frame, run a piece slower, faster or backwards. What is traced goes along.`,
        words: say`retime speed ramp reverse time hold stop`,
      },
      {
        asks: say`Use the same settings again`,
        says: say`Keep a look: under add, Looks, the cards of a member are kept with a picture for every project, and go on anybody.`,
        words: say`preset save copy paste style`,
      },
      {
        asks: say`Go from one shot into the next`,
        says: say`Add Take over in the first one: over its last frames the next runs already, and mattes of both can be used.`,
        words: say`transition join crossfade dissolve wipe`,
      },
    ],
  },
  {
    chapter: say`Sound, output, trouble`,
    answers: [
      {
        asks: say`A sound at every swing`,
        says: say`In Sound add Swish on the member: it stands at every swing that is found, and a bead that is wrong can be moved or switched off.`,
        words: say`whoosh audio noise effect sfx`,
      },
      {
        asks: say`Give somebody the matte only`,
        says: say`Under Output choose a matte or a cut-out, of a member or of all, as PNG, OpenEXR or a video with alpha.`,
        words: say`export alpha mask transparent`,
      },
      {
        asks: say`Everything is slow`,
        says: say`Pictures are coarse while something moves and as fine as the screen shows once the hand rests. Choose half or a quarter size above the picture, and they stay so. What goes out is always whole.`,
        words: say`performance lag proxy resolution speed`,
      },
      {
        asks: say`I deleted something by mistake`,
        says: say`Ctrl Z takes it back, also after the page was closed. What was done lists every step by name and time, to go back to, and brings deleted members and parts back by themselves; backups are on the shelf.`,
        words: say`undo restore lost history recover bin`,
      },
      {
        asks: say`The panels take too much room`,
        says: say`Drag their edges, or fold them away with the arrow on the edge; U shows the picture alone, with a thin thread below.`,
        words: say`fullscreen bigger picture hide larger`,
      },
      {
        asks: say`Where is the key for that?`,
        says: say`A question mark shows all keys, and each can be given another. Shift Enter does anything by its name, as you type it.`,
        words: say`shortcut keyboard hotkey command`,
      },
    ],
  },
]

const everyAnswer: Answer[] = [
  ...answersByChapter.flatMap(({ answers }) => answers),
  ...(Object.keys(words) as Word[]).map((word) => ({ asks: say`What is: ${wordName(word)}?`, says: words[word] })),
]

const smallWords = say`a an the my is it its at on in of to how do i what can why and for with are be does want where`

/** Answers to what was typed, what somebody asks before what is only said of it. Common small words do not count. */
export function soughtAnswers(typed: string): Answer[] {
  const small = new RegExp(`\\b(${smallWords.replaceAll(' ', '|')})\\b`, 'gi')
  return soughtIn(typed.replace(small, ' '), everyAnswer, ({ asks, says, words: more = '' }) => ({
    name: asks,
    says: more,
    words: says,
  }))
}
