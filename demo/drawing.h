// What the programs draw with that make pictures for the docs.
#pragma once

#include "report/plot.h"

using namespace yardpass;
using detail::Canvas;
using detail::Frame;
using detail::hex;
using detail::kFaint;
using detail::kInk;
using detail::PlanView;
