/// The version, written here and nowhere else: the build reads it from this file.
#pragma once

#define YARDPASS_VERSION_MAJOR 0
#define YARDPASS_VERSION_MINOR 1
#define YARDPASS_VERSION_PATCH 0
#define YARDPASS_VERSION "0.1.0"
