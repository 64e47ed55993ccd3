// Keys whose values count for a fingerprint: whatever a visit settles, in bytes.
#pragma once

#include "run/bytes.h"
#include "yardpass/keys/keys.h"

namespace yardpass::detail {

/// Passes every visit on to other keys, and writes down what comes back.
class DigestingKeys : public Keys {
 public:
  DigestingKeys(Keys& inner, BytesOut& bytes) : inner_(inner), bytes_(bytes) {}

  void number(const char* key, double& value, const Derived& usual, const About& about) override;
  void number(const char* key, std::optional<double>& value, const About& about) override;
  void whole(const char* key, int& value, int usual, const About& about) override;
  void flag(const char* key, bool& value, bool usual, const About& about) override;
  void text(const char* key, std::string& value, const About& about) override;
  void file(const char* key, std::filesystem::path& value, const About& about) override;
  void word(const char* key, std::size_t& value, std::span<const char* const> words, std::size_t usual,
            const std::string& rule, const About& about) override;
  void word(const char* key, std::optional<std::size_t>& value, std::span<const char* const> words,
            const About& about) override;
  void word_or_number(const char* key, std::optional<std::size_t>& word, double& number,
                      std::span<const char* const> words, const About& about) override;
  void words(const char* key, std::vector<std::size_t>& value, std::span<const char* const> words,
             const About& about) override;
  void name(const char* key, std::string& value, Named kind, const About& about) override;
  void names(const char* key, std::vector<std::string>& value, Named kind, const About& about) override;
  void area(const char* key, GivenArea& value, const About& about) override;
  void curves(const char* key, GivenCurves& value, const About& about) override;
  void tool(const char* key, GivenTool& value, const About& about) override;
  void loops(const char* key, std::optional<Region>& value, const About& about) override;
  void corners(const char* key, std::optional<Corners>& value, const About& about) override;
  void numbers(const char* key, std::vector<double>& value, std::initializer_list<std::size_t> counts,
               const char* form, const About& about) override;
  void counts(const char* key, std::vector<std::int64_t>& value, const About& about) override;
  void places(const char* key, std::vector<std::vector<double>>& value, std::size_t count,
              const About& about) override;
  void points(const char* key, std::vector<std::vector<double>>& value, std::size_t least, const char* form,
              const About& about) override;
  void each(const char* key, const std::function<void(Keys& one)>& visit, const About& about) override;
  void table(const char* key, const std::function<void(Keys& keys)>& visit, const About& about) override;
  [[nodiscard]] int line() const override { return inner_.line(); }
  [[nodiscard]] bool says(const char* key) const override;
  void one_of(std::initializer_list<const char*> keys, bool needed) override { inner_.one_of(keys, needed); }
  void refuse_if(bool wrong, std::initializer_list<const char*> keys, const std::string& why) override {
    inner_.refuse_if(wrong, keys, why);
  }
  void idle_if(bool idle, const char* key, const std::string& why) override {
    inner_.idle_if(idle, key, why);
  }

 private:
  template <typename... Values>
  void note(const char* key, const Values&... values);

  Keys& inner_;
  BytesOut& bytes_;
};

}  // namespace yardpass::detail
