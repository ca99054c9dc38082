// Ties a sketch's tables to the tick. Comes after the tables, which are named: inputTable, outputTable, cueTable, followerTable,
// interlockTable, holderTable; their lengths INPUTS, OUTPUTS, CUES, FOLLOWERS, INTERLOCKS, HOLDERS, TIMES, NUMBERS; LINK_SILENCE is a
// number or no_number. The sketch gives  uint8_t pinOf(uint8_t input)  (at its active level),  int16_t pulsesOf(uint8_t input)  and  void
// placed(uint8_t output).
#ifndef SPARK_GADGET_H
#define SPARK_GADGET_H
#include <stdint.h>
#include "spark_tick.h"

int32_t parameter[NUMBERS + (NUMBERS == 0)];  // the numbers, as they are now

spark::WholeState wholeState;
spark::InputState inputState[INPUTS + (INPUTS == 0)];
spark::OutputState outputState[OUTPUTS + (OUTPUTS == 0)];
spark::CueState cueState[CUES + (CUES == 0)];
spark::HolderState holderState[HOLDERS + (HOLDERS == 0)];
uint32_t hushed[TIMES + (TIMES == 0)];

struct Gadget {
  static constexpr uint8_t inputs() { return INPUTS; }
  static constexpr uint8_t outputs() { return OUTPUTS; }
  static constexpr uint8_t cues() { return CUES; }
  static constexpr uint8_t followers() { return FOLLOWERS; }
  static constexpr uint8_t interlocks() { return INTERLOCKS; }
  static constexpr uint8_t holders() { return HOLDERS; }
  static const spark::Input* inputRow(uint8_t i) { return spark::inputTable + i; }
  static const spark::Output* outputRow(uint8_t o) { return spark::outputTable + o; }
  static const spark::Cue* cueRow(uint8_t c) { return spark::cueTable + c; }
  static const spark::Follower* followerRow(uint8_t f) { return spark::followerTable + f; }
  static const spark::Interlock* interlockRow(uint8_t r) { return spark::interlockTable + r; }
  static const spark::Holder* holderRow(uint8_t l) { return spark::holderTable + l; }
  static spark::WholeState& whole() { return wholeState; }
  static spark::InputState& input(uint8_t i) { return inputState[i]; }
  static spark::OutputState& output(uint8_t o) { return outputState[o]; }
  static spark::CueState& cue(uint8_t c) { return cueState[c]; }
  static spark::HolderState& holder(uint8_t l) { return holderState[l]; }
  static uint32_t& hush(uint8_t t) { return hushed[t]; }
  static int32_t& number(int16_t n) { return parameter[n]; }
  static uint8_t pin(uint8_t i) { return pinOf(i); }
#if SPARK_READINGS
  static int16_t reading(uint8_t i) { return inputState[i].value; }  // the converter leaves it there
#endif
  static int16_t pulses(uint8_t i) { return pulsesOf(i); }
  static constexpr int16_t leastSilence() { return LINK_SILENCE; }
  static constexpr bool counts() { return true; }
  static constexpr bool enforces() { return true; }
  static void moved(uint8_t o) { placed(o); }
} gadget;

#if SPARK_LINK
enum { LINKS = SPARK_RADIO ? 2 : 1 };
#if SPARK_RADIO
uint8_t heardFar = 0;  // the radio is heard now, and answered
spark::Talk linkTalk[LINKS] = {{-1, 0, 0, 0, 0, 0}, {-1, 0, 0, 0, 0, 0}};
// Answers go to where the command came from. The sketch gives, before this: radioWrite(uint8_t), and what the radio may do: RADIO_GRANTS, a
// bit for each of Permit::What.
struct AnsweringOut {
  static void write(uint8_t byte) {
    if (heardFar) radioWrite(byte);
    else Serial.write(byte);
  }
} answeringOut;
#else
constexpr uint8_t heardFar = 0;
spark::Talk linkTalk[LINKS] = {{-1, 0, 0, 0, 0, 0}};
#endif
uint8_t toldOf[CUES + (CUES == 0)];
char linkLine[LINKS][LINE_ROOM];
void saveNumbers();
void backToDefaults();
void clockWasSet();
void sayMoreOfState();

// The gadget as its link knows it. The sketch gives, besides, before this: helloText, limits, unitTexts, numberTexts, nameTexts, and, where
// words are said, wordTexts, PERMITS and permitTable; LINE_ROOM and FRAME_VALUES; and the four functions above.
struct Linked : Gadget {
#if SPARK_RADIO
  static AnsweringOut& out() { return answeringOut; }
  static bool far() { return heardFar; }
  static bool grants(uint8_t what) { return RADIO_GRANTS >> what & 1; }
#else
  static decltype(Serial)& out() { return Serial; }
#endif
  static spark::Talk& talk() { return linkTalk[heardFar]; }
  static uint8_t& told(uint8_t c) { return toldOf[c]; }
  static constexpr int16_t numbers() { return NUMBERS; }
  static int32_t least(int16_t n) { return SPARK_READ(limits[n].least); }
  static int32_t most(int16_t n) { return SPARK_READ(limits[n].most); }
  static const char* hello() { return helloText; }
  static const char* numberNames() { return numberTexts; }
  static const char* unit(int16_t n) { return spark::nth(unitTexts, SPARK_READ(limits[n].unit)); }
  static const char* names() { return nameTexts; }
#if SPARK_SAID
  static const char* words() { return wordTexts; }
  static constexpr int16_t permits() { return PERMITS; }
  static const spark::Permit* permit(int16_t k) { return permitTable + k; }
#endif
  static char* line() { return linkLine[heardFar]; }
  static constexpr uint8_t lineRoom() { return LINE_ROOM; }
  static constexpr uint8_t frameValues() { return FRAME_VALUES; }
  static void save() { saveNumbers(); }
  static void defaults() { backToDefaults(); }
  static void clockSet() { clockWasSet(); }
  static void sayMore() { sayMoreOfState(); }
} linked;
#endif

// Outputs at rest, cues idle, the time lost.
inline void powerUpGadget() {
  spark::powerUp(gadget.whole());
  for (uint8_t i = INPUTS; i-- > 0;) spark::powerUp(gadget.input(i), SPARK_READ(spark::inputTable[i].is) & spark::Input::cautious);
  for (uint8_t o = OUTPUTS; o-- > 0;) {
    const spark::Output* row = gadget.outputRow(o);
    spark::powerUp(gadget.output(o), SPARK_READ(row->kind), SPARK_READ(row->start), SPARK_READ(row->is) & spark::Output::homed);
#if SPARK_BRAKES
    gadget.output(o).braked = (SPARK_READ(row->is) & spark::Output::brakes) != 0;
#endif
  }
  for (uint8_t c = CUES; c-- > 0;) spark::powerUp(gadget.cue(c));
  for (uint8_t l = HOLDERS; l-- > 0;) spark::powerUp(gadget.holder(l));
}

#endif
