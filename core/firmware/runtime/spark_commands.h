// The link's text: commands come in, answers and what it is doing go out, one line each; and the telemetry, in frames (spark_link.h). What
// each command means: docs/link-protocol.md. The same file runs on the desk and on the board.
//
// L is the gadget (spark_tick.h), and besides:
//   out()                               takes bytes: write(uint8_t)
//   talk(), told(c)                     references to what the link is doing, and to what was last said of a cue
//   numbers(), least(n), most(n)        how many numbers there are, and their limits
//   hello(), numberNames(), unit(n), names(), words()   texts, in flash where tables stand there; of several, one after another: names of
//                                       inputs, outputs and cues; words of the inputs that are said, in their order
//   permits(), permit(k)                what wants a word
//   line(), lineRoom()                  where a line is collected
//   frameValues()                       values of a frame
//   far(), grants(what)                 whether it is the radio that is heard now, on a line of its own; what that may do (SPARK_RADIO)
//   save(), defaults()                  the numbers into memory; back to those of the sketch
//   clockSet(), sayMore()               what this board does besides, when the clock was set, and says when it is asked how it is
#ifndef SPARK_COMMANDS_H
#define SPARK_COMMANDS_H
#include <stdint.h>
#include "spark_link.h"
#include "spark_tick.h"

#ifndef SPARK_IN_FLASH
#define SPARK_IN_FLASH
#endif
namespace spark {

// Of a number: its limits, and which of the units it has.
struct Limits {
  int32_t least, most;
  uint8_t unit;
};

struct Talk {
  int16_t list_at;  // next line of the list, -1: it is not being said
  uint8_t sequence;
  uint8_t streams;   // telemetry goes
  uint8_t tells;     // says when a cue begins or ends
  uint8_t length;    // of the line that is coming in
  uint8_t too_long;  // and does not fit
};
constexpr uint8_t not_told = 255;

// What a word starts, the link starts, drives and sets only with that word.
struct Permit {
  enum What : uint8_t { start, drive, set };
  uint8_t what, word;
  int16_t which;
};

// ---- Commands: their first word, and what else they want.
enum class Verb : uint8_t { Hello, List, Set, Clock, Start, Stop, Stream, Say, Number, Drive, State, Tell, Save, Defaults };
constexpr uint8_t verbs = SPARK_SAVES ? 14 : 12;
static const char usages[] SPARK_IN_FLASH =
    "hello\0list\0set NAME VALUE [WORD]\0clock HH:MM:SS [YYYY-MM-DD]\0start CUE [WORD]\0stop\0stream 0|1\0say WORD\0number INPUT VALUE\0"
    "drive OUTPUT VALUE [MS [WORD]]\0state\0tell 0|1\0save\0defaults";
// ---- Answers
enum class Answer : uint8_t {
  Ok,
  Error,
  Param,
  Input,
  Output,
  Cue,
  End,
  Tells,
  Runs,
  GaveUp,
  Rests,
  TooLong,
  Outside,
  NoSuch,
  NeedsWord,
  NotByRadio
};
static const char answers[] SPARK_IN_FLASH =
    "ok \0error \0param \0input \0output \0cue \0end\0: \0 runs\0 gave up\0 rests\0line too long\0outside its range\0no such parameter\0"
    ": with the word that starts it"
#if SPARK_RADIO
    "\0not by radio"
#endif
    ;

template <class L> void put(L& link, char c) { link.out().write(static_cast<uint8_t>(c)); }
inline const char* nth(const char* list, int16_t n) {
  for (; n > 0; --n)
    while (SPARK_READ(*list++) != 0) {
    }
  return list;
}
// A text out of a table: all of it, or its first word.
template <class L> void sayText(L& link, const char* text, bool word = false) {
  for (;; ++text) {
    const char c = SPARK_READ(*text);
    if (c == 0 || (word && c == ' ')) return;
    put(link, c);
  }
}
template <class L> void sayText(L& link, Answer which) { sayText(link, nth(answers, static_cast<uint8_t>(which))); }
template <class L> void endLine(L& link) {
  put(link, '\r');
  put(link, '\n');
}
template <class L> void sayNumber(L& link, int32_t is) {
  uint32_t left = static_cast<uint32_t>(is);
  if (is < 0) {
    put(link, '-');
    left = 0 - left;
  }
  char digits[10];
  uint8_t count = 0;
  do digits[count++] = static_cast<char>('0' + left % 10);
  while ((left /= 10) != 0);
  while (count > 0) put(link, digits[--count]);
}
// ok, and the command's first word.
template <class L> void agree(L& link, const char* usage) {
  sayText(link, Answer::Ok);
  sayText(link, usage, true);
  endLine(link);
}
template <class L> void refuse(L& link, Answer why) {
  sayText(link, Answer::Error);
  sayText(link, why);
  endLine(link);
}

// ---- What a line says
// A whole number; what is larger than any number here stays larger.
inline bool wholeNumber(const char* text, int32_t& value) {
  const bool less = *text == '-';
  if (less) ++text;
  if (*text == 0) return false;
  for (value = 0; *text >= '0' && *text <= '9'; ++text) value = value > 99999999 ? 1000000000 : 10 * value + (*text - '0');
  if (less) value = -value;
  return *text == 0;
}
// Whether a word is the first of a text in a table.
inline bool isFirst(const char* word, const char* text) {
  for (;; ++word, ++text) {
    const char c = SPARK_READ(*text);
    if (*word == 0) return c == 0 || c == ' ';
    if (*word != c) return false;
  }
}
// Two digits; -1 where there are none.
inline int16_t twoDigits(const char* at) {
  if (at[0] < '0' || at[0] > '9' || at[1] < '0' || at[1] > '9') return -1;
  return static_cast<int16_t>((at[0] - '0') * 10 + at[1] - '0');
}
// HH:MM:SS; -1 where it is none.
inline int32_t clockIn(const char* at) {
  int32_t seconds = 0;
  for (uint8_t k = 0; k < 3; ++k, at += 3) {
    const int16_t part = twoDigits(at);
    if (part < 0 || part > (k == 0 ? 23 : 59) || at[2] != (k < 2 ? ':' : 0)) return -1;
    seconds = 60 * seconds + part;
  }
  return seconds * 1000;
}
// YYYY-MM-DD, of the years 2000 to 2099.
inline bool dateIn(const char* at, Date& date) {
  if (twoDigits(at) != 20) return false;
  int16_t parts[3];
  for (uint8_t k = 0; k < 3; ++k, at += 3) {
    parts[k] = twoDigits(at + 2);
    if (parts[k] < 0 || at[4] != (k < 2 ? '-' : 0)) return false;
  }
  date.year = static_cast<int16_t>(2000 + parts[0]);
  date.month = parts[1];
  date.day = parts[2];
  return date.month >= 1 && date.month <= 12 && date.day >= 1 && date.day <= daysIn(date.year, date.month);
}

#if SPARK_SAID
template <class L> bool mayDo(L& link, Permit::What what, int16_t which, const char* word) {
  bool wants = false;
  for (int16_t k = 0; k < link.permits(); ++k) {
    const Permit* permit = link.permit(k);
    if (SPARK_READ(permit->what) != what || SPARK_READ(permit->which) != which) continue;
    wants = true;
    if (isFirst(word, nth(link.words(), SPARK_READ(permit->word)))) return true;
  }
  return !wants;
}
#else
template <class L> bool mayDo(L&, Permit::What, int16_t, const char*) { return true; }
#endif

// What the radio may not do, on a line of its own: it asks for no lists and no telemetry, saves nothing, and starts, drives and sets only
// what it was granted.
#if SPARK_RADIO
constexpr uint16_t heard_far = 1u << static_cast<uint8_t>(Verb::Hello) | 1u << static_cast<uint8_t>(Verb::Set) |
                               1u << static_cast<uint8_t>(Verb::Clock) | 1u << static_cast<uint8_t>(Verb::Start) |
                               1u << static_cast<uint8_t>(Verb::Stop) | 1u << static_cast<uint8_t>(Verb::Say) |
                               1u << static_cast<uint8_t>(Verb::Number) | 1u << static_cast<uint8_t>(Verb::Drive);
template <class L> bool barred(L& link, Verb verb) {
  if (!link.far()) return false;
  if (!(heard_far >> static_cast<uint8_t>(verb) & 1)) return true;
  return (verb == Verb::Start && !link.grants(Permit::start)) || (verb == Verb::Drive && !link.grants(Permit::drive)) ||
         ((verb == Verb::Set || verb == Verb::Clock) && !link.grants(Permit::set));
}
#else
template <class L> bool barred(L&, Verb) { return false; }
#endif

// Which number has this name; no_number: none.
template <class L> int16_t numberNamed(L& link, const char* name) {
  const char* text = link.numberNames();
  for (int16_t n = 0; n < link.numbers(); ++n, text = nth(text, 1))
    if (isFirst(name, text)) return n;
  return no_number;
}

// ---- The commands
// Cuts a line into its words; those that are not there are empty.
inline void cut(char* line, char** said, uint8_t most) {
  for (uint8_t k = 0; k < most; ++k) {
    while (*line == ' ') ++line;
    said[k] = line;
    while (*line != 0 && *line != ' ') ++line;
    if (*line != 0) *line++ = 0;
  }
}

template <class L> void refuseAll(L& link) {
  sayText(link, Answer::Error);
  for (uint8_t v = 0; v < verbs; ++v) {
    if (v > 0) {
      put(link, ',');
      put(link, ' ');
    }
    sayText(link, nth(usages, v), true);
  }
  endLine(link);
}

// One switch, a case a command: a small chip pays for every call.
template <class L> void obey(L& link, char* line) {
  char* said[5];
  cut(line, said, 5);
  if (*said[0] == 0) return;
  const char* usage = usages;
  uint8_t v = 0;
  for (; v < verbs && !isFirst(said[0], usage); ++v) usage = nth(usage, 1);
  if (v == verbs) return refuseAll(link);
#if SPARK_RADIO
  link.whole().link_spoke = 1;
#endif
  if (barred(link, static_cast<Verb>(v))) return refuse(link, Answer::NotByRadio);
  Talk& talk = link.talk();
  int32_t first = 0, second = 0;
  const bool has_first = wholeNumber(said[1], first), has_second = wholeNumber(said[2], second);
  bool well = true, may = true;
  switch (static_cast<Verb>(v)) {
    case Verb::Hello: sayText(link, link.hello()); return endLine(link);
    case Verb::List: talk.list_at = 0; return;
    case Verb::Set: {
      const int16_t n = numberNamed(link, said[1]);
      well = has_second;
      if (well && n == no_number) return refuse(link, Answer::NoSuch);
      may = !well || mayDo(link, Permit::set, n, said[3]);
      if (!well || !may) break;
      if (second < link.least(n) || second > link.most(n)) return refuse(link, Answer::Outside);
      link.number(n) = second;
      numbersChanged(link);
      sayText(link, Answer::Ok);
      sayText(link, nth(link.numberNames(), n));
      put(link, ' ');
      sayNumber(link, second);
      return endLine(link);
    }
    case Verb::Clock: {
      const int32_t time = clockIn(said[1]);
      well = time >= 0;
#if SPARK_DAYS
      Date date;
      const bool has_date = *said[2] != 0;
      if (has_date) well = well && dateIn(said[2], date);
      if (well && has_date) setDate(link, date);
#endif
      if (!well) break;
      setClock(link, time, true);
      link.clockSet();
      break;
    }
    case Verb::Start:
      well = has_first && first >= 0 && first < link.cues();
      may = !well || mayDo(link, Permit::start, static_cast<int16_t>(first), said[2]);
      if (well && may) ask(link, static_cast<uint8_t>(first));
      break;
    case Verb::Stop: link.whole().stop_asked = 1; break;
    case Verb::Stream:
      well = has_first;
      if (well) talk.streams = first == 1;
      break;
    case Verb::Say: {
      well = false;
#if SPARK_SAID
      const char* word = link.words();
      for (uint8_t i = 0; i < link.inputs(); ++i) {
        if (SPARK_READ(link.inputRow(i)->source) != Source::Word) continue;
        if (isFirst(said[1], word)) {
          link.input(i).said = 1;
          well = true;
        }
        word = nth(word, 1);
      }
#endif
      break;
    }
    case Verb::Number: well = false;
#if SPARK_SAID && SPARK_READINGS
      if (has_first && first >= 0 && first < link.inputs() && has_second && second >= 0 && second <= 1023) {
        well = SPARK_READ(link.inputRow(static_cast<uint8_t>(first))->source) == Source::Number;
        InputState& input = link.input(static_cast<uint8_t>(first));
        if (well) input.value = static_cast<int16_t>(second);
        if (well) input.age = -2;
      }
#endif
      break;
    case Verb::Drive: {
      int32_t time = 1000;
      well = has_first && has_second && first >= 0 && first < link.outputs() && second >= -2 &&
             (*said[3] == 0 || wholeNumber(said[3], time)) && time >= 1 && time <= 600000;
      may = !well || mayDo(link, Permit::drive, static_cast<int16_t>(first), said[4]);
      if (!well || !may) break;
      OutputState& output = link.output(static_cast<uint8_t>(first));
      output.hand_value = second;
      output.hand_time = time;
      output.hand_asked = 1;
      break;
    }
    case Verb::State:
      for (uint8_t c = 0; c < link.cues(); ++c) link.told(c) = not_told;
      link.sayMore();
      break;
    case Verb::Tell:
      well = has_first;
      if (well) talk.tells = first == 1;
      break;
#if SPARK_SAVES
    case Verb::Save: agree(link, usage); return link.save();
    case Verb::Defaults: link.defaults(); break;
#endif
    default: break;
  }
  if (well && may) return agree(link, usage);
  sayText(link, Answer::Error);
  sayText(link, usage);
  if (well) sayText(link, Answer::NeedsWord);
  endLine(link);
}

// A byte that came. True when it ended a line, which has been answered.
template <class L> bool hear(L& link, char c) {
  Talk& talk = link.talk();
#if SPARK_RADIO
  if (!link.far())  // noise in the air is nobody who speaks
#endif
    link.whole().link_spoke = 1;
  if (c == '\r') return false;
  if (c != '\n') {
    if (talk.length + 1 < link.lineRoom()) link.line()[talk.length++] = c;
    else talk.too_long = 1;
    return false;
  }
  link.line()[talk.length] = 0;
  if (talk.too_long) refuse(link, Answer::TooLong);
  else obey(link, link.line());
  talk.length = talk.too_long = 0;
  return true;
}

// ---- What goes out by itself, a line a call, so that nothing waits for the wire
// The next line of the list, while it is being said.
template <class L> void sayListed(L& link) {
  Talk& talk = link.talk();
  if (talk.list_at < 0) return;
  int16_t at = talk.list_at++;
  if (at < link.numbers()) {
    sayText(link, Answer::Param);
    sayText(link, nth(link.numberNames(), at));
    for (uint8_t k = 0; k < 3; ++k) {
      put(link, ' ');
      sayNumber(link, k == 0 ? link.number(at) : k == 1 ? link.least(at) : link.most(at));
    }
    put(link, ' ');
    sayText(link, link.unit(at));
    return endLine(link);
  }
  at = static_cast<int16_t>(at - link.numbers());
  const int16_t named = at;
  const uint8_t counts[] = {link.inputs(), link.outputs(), link.cues()};
  for (uint8_t kind = 0; kind < 3; ++kind) {
    if (at < counts[kind]) {
      sayText(link, static_cast<Answer>(static_cast<uint8_t>(Answer::Input) + kind));
      sayNumber(link, at);
      put(link, ' ');
      sayText(link, nth(link.names(), named));
      return endLine(link);
    }
    at = static_cast<int16_t>(at - counts[kind]);
  }
  talk.list_at = -1;
  sayText(link, Answer::End);
  endLine(link);
}

// What it is doing, in words: one cue a call, where something has changed. False when there is nothing to be said.
template <class L> bool sayState(L& link) {
  for (uint8_t c = 0; c < link.cues(); ++c) {
    uint8_t& told = link.told(c);
    const uint8_t now = link.cue(c).place >= 0 ? 1 : link.cue(c).faulted ? 2 : 0;
    if (told == now) continue;
    const bool says = link.talk().tells || told == not_told;
    told = now;
    if (!says) continue;
    sayText(link, Answer::Tells);
    sayText(link, nth(link.names(), static_cast<int16_t>(link.inputs() + link.outputs() + c)));
    sayText(link, now == 1 ? Answer::Runs : now == 2 ? Answer::GaveUp : Answer::Rests);
    endLine(link);
    return true;
  }
  return false;
}

template <class L, class Out> void sendFrame(L& link, Out& out) {
  const WholeState& whole = link.whole();
  uint8_t inputs = 0, cues = 0, flags = static_cast<uint8_t>((whole.clock_set ? 1 : 0) | (whole.stopped ? 2 : 0));
  for (uint8_t i = 0; i < link.inputs() && i < 8; ++i)
    if (link.input(i).active) inputs |= static_cast<uint8_t>(1 << i);
  for (uint8_t c = 0; c < link.cues(); ++c) {
    if (link.cue(c).place >= 0 && c < 8) cues |= static_cast<uint8_t>(1 << c);
    if (link.cue(c).faulted) flags |= 4;
  }
  uint8_t left = link.frameValues();
  Frame<Out> frame(out, left, link.talk().sequence++, whole.ticks, flags, static_cast<uint32_t>(whole.clock), inputs, cues);
  for (uint8_t o = 0; o < link.outputs() && left > 0; ++o, --left) frame.value(link.output(o).level);
#if SPARK_READINGS
  for (uint8_t i = 0; i < link.inputs() && left > 0; ++i) {
    const Input* row = link.inputRow(i);
    const Source source = SPARK_READ(row->source);
    if (!(SPARK_READ(row->is) & Input::analogue) && source != Source::Tach && source != Source::Number) continue;
    frame.value(link.input(i).value);
    --left;
  }
#endif
  frame.end();
}

}  // namespace spark
#endif
