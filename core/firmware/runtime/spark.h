// The runtime: what the chip shares with the plan, the simulation and the proof. The same for every gadget; gadget.h, before it, says what
// of it a gadget needs. Each stands after what it needs itself.
#ifndef SPARK_H
#define SPARK_H
// clang-format off
#include "spark_flash.h"
#include "spark_values.h"
#include "spark_motion.h"
#include "spark_clock.h"
#include "spark_link.h"
#include "spark_loop.h"
#include "spark_store.h"
#include "spark_drive_cycles.h"
#include "spark_drive_rate.h"
#include "spark_drive_latch.h"
#include "spark_drive_bridge.h"
#include "spark_drive_ends.h"
#if SPARK_MAINS
#include "spark_drive_phase.h"
#endif
#include "spark_program.h"
#if SPARK_CONFIGURES || SPARK_EXPANDS
#include "spark_drive_registers.h"
#endif
#if SPARK_EXPANDS
#include "spark_drive_expander.h"
#endif
#include "spark_state.h"
#include "spark_power.h"
#include "spark_outputs.h"
#include "spark_inputs.h"
#include "spark_cues.h"
#include "spark_hand.h"
#include "spark_steps.h"
#include "spark_hold.h"
#include "spark_levels.h"
#include "spark_tick.h"
#include "spark_words.h"
#if SPARK_LINK
#include "spark_commands.h"
#endif
#if SPARK_RADIO
#include "spark_radio.h"
#endif
// clang-format on
#endif
