// The command line as its users meet it.
#pragma once

#include <sys/wait.h>

#include <cstdlib>

#include "support/scratch.h"

namespace yardpass::testing {

/// A folder with the program at hand.
class CommandFolder : public ScratchFolder {
 protected:
  struct Result {
    int code;
    std::string out, error;
  };
  /// Runs it in the folder; code -1 if a signal ended it.
  Result run(const std::string& words) {
    const std::string line =
        "cd '" + folder().string() + "' && '" YARDPASS_PROGRAM "' " + words + " >out.txt 2>error.txt";
    const int status = std::system(line.c_str());
    return {WIFEXITED(status) ? WEXITSTATUS(status) : -1, contents(folder() / "out.txt"),
            contents(folder() / "error.txt")};
  }
};

}  // namespace yardpass::testing
