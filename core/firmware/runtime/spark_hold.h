// Loops: outputs whose drive is made from a reading.
// Part of the tick (spark_tick.h, which says what G is). The same file runs on the desk, in the proof and on the board.
#ifndef SPARK_HOLD_H
#define SPARK_HOLD_H
#include <stdint.h>
#include "spark_hand.h"
#include "spark_loop.h"

namespace spark {

#if SPARK_ROLLS
// Wheels of one body lean back against its rolling, not each against its own: else what sets them apart by a little grows, and they turn it
// on the spot, which no reading of its tilt shows.
template <class G> void lean(G& g, uint8_t l) {
  HolderState& holder = g.holder(l);
  const Holder* own = g.holderRow(l);
  if (SPARK_READ(g.outputRow(SPARK_READ(own->output))->kind) != Kind::Stepper) return;
  if (holder.loop.phase + 1 < g.number(SPARK_READ(own->numbers[LoopNumber::period]))) return;  // it is read when its period ends
  holder.rate = holder.away = 0;
  int32_t count = 0;
  const uint8_t in = SPARK_READ(own->input);
  for (uint8_t k = 0; k < g.holders(); ++k) {
    const uint8_t o = SPARK_READ(g.holderRow(k)->output);
    const Output* row = g.outputRow(o);
    if (SPARK_READ(g.holderRow(k)->input) != in || SPARK_READ(row->kind) != Kind::Stepper) continue;
    holder.rate += g.output(o).share;
    holder.away += g.output(o).level - SPARK_READ(row->start);
    ++count;
  }
  if (count < 2) return;
  // Two wheels are most usual, and half of something, towards nothing, is no division: four of those would take 150 us on a small chip.
  holder.rate = count == 2 ? (holder.rate + (holder.rate < 0)) >> 1 : holder.rate / count;
  holder.away = count == 2 ? (holder.away + (holder.away < 0)) >> 1 : holder.away / count;
}

#endif
#if SPARK_BOTH
// What a loop turns round stands still first, and for its pause; then it goes the other way. @return permille of it
template <class G> int32_t wayOf(G& g, const Holder* row, HolderState& holder, OutputState& output, int32_t drive) {
  const bool back = drive < 0;
  int32_t share = back ? -drive : drive;
  if (share > 0 && back != (output.back != 0)) {
    const uint32_t pause = static_cast<uint32_t>(atLeastOne(g.number(SPARK_READ(row->numbers[LoopNumber::turn]))));
    if (output.share > 0 || g.whole().ticks - holder.stood < pause) share = 0;
    else output.back = back;
  }
  if (share == 0 && output.share > 0) holder.stood = g.whole().ticks;
  return share;
}
#endif
#if SPARK_LOOPS
// One tick of a loop. Under the desk's hand it only goes on counting.
template <class G> void hold(G& g, uint8_t l) {
  const Holder* row = g.holderRow(l);
  HolderState& holder = g.holder(l);
  const uint8_t o = SPARK_READ(row->output), i = SPARK_READ(row->input);
  OutputState& output = g.output(o);
  InputState& input = g.input(i);
  const Kind kind = SPARK_READ(g.outputRow(o)->kind);
#if SPARK_ROLLS
  const bool rolls = kind == Kind::Stepper;
#else
  const bool rolls = false;
#endif
  const bool hand = byHand(output);
#if SPARK_COUNTS
  const bool tach = SPARK_READ(g.inputRow(i)->source) == Source::Tach;
#endif
  const bool runs = kind == Kind::Switched ? output.on : output.asked;
  if ((!runs || hand) && holder.loop.last >= 0) forget(holder.loop);
#if SPARK_BOTH
  if (!runs || hand) holder.stood = g.whole().ticks;
#endif
  if (!runs) {
    holder.loop.phase = 0;
    if (kind != Kind::Switched) output.share = 0;
#if SPARK_COUNTS
    // What it reads it reads, loop or not: the disc may still turn.
    if (tach && ++input.steady >= g.number(SPARK_READ(row->numbers[LoopNumber::period]))) {
      input.value = input.count > 1023 ? 1023 : input.count;
      input.count = input.steady = 0;
    }
#endif
    return;
  }
#if SPARK_COUNTS
  // The loop's first period begins with it.
  if (tach && input.steady != 0) input.count = input.steady = 0;
#endif
  if (holder.loop.last < 0 && !hand) output.share = output.idle = 0;
  if (!periodEnds(holder.loop, g.number(SPARK_READ(row->numbers[LoopNumber::period])))) return;
#if SPARK_COUNTS
  if (tach) {
    input.value = input.count > 1023 ? 1023 : input.count;
    input.count = 0;
  }
#endif
  if (hand) return;
  int32_t numbers[LoopNumber::count];
  for (uint8_t k = 0; k < LoopNumber::count; ++k) {
    const int16_t n = SPARK_READ(row->numbers[k]);
    numbers[k] = n != no_number ? g.number(n) : k == LoopNumber::smoothing ? 16 : 0;
  }
#if SPARK_BOTH
  const bool both = kind == Kind::Switched && SPARK_READ(row->numbers[LoopNumber::turn]) != no_number;
#else
  const bool both = false;
#endif
  int32_t drive = loopDrive(holder.loop, numbers, rolls, both, SPARK_READ(row->most), input.value, holder.rate, holder.away);
#if SPARK_BOTH
  if (both) drive = wayOf(g, row, holder, output, drive);
#endif
  output.share = static_cast<int16_t>(drive);
  output.idle = 0;
}
#endif

}  // namespace spark
#endif
