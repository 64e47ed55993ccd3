"""The page in a browser without a screen: what it shows is what the run found, and its controls do what they say."""
import json
import pathlib
import shutil
import subprocess
import sys
import time
import unittest

from selenium import webdriver
from selenium.webdriver.chrome.options import Options
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys

PROGRAM, ROOT, WORK = (pathlib.Path(word).resolve() for word in sys.argv[1:4])

JOB = f"""
title = "Hull plug </script> & co"
[part]
mesh = "{ROOT}/demo/hull-plug.stl"
[stock]
above = 1
cell = 0.5
[tools.flat12]
number = 1
shape = "flat"
diameter = 12.0
flute_length = 40
shank_diameter = 12
stickout = 70
holder = [{{ length = 40, lower_diameter = 30, upper_diameter = 40 }}]
spindle = 8000
feed = 2400
[tools.ball8]
number = 2
shape = "ball"
diameter = 8.0
spindle = 12000
feed = 1800
[boundaries.keel]
points = [[-20, -10], [20, -10], [20, 10], [-20, 10]]
[[operation]]
name = "rough the plug"
strategy = "roughing"
tool = "flat12"
stepdown = 4
[[operation]]
name = "finish the hull"
strategy = "parallel"
tool = "ball8"
stepover = 2
keep_inside = "keel"
"""


def command(*words, codes=(0,)):
    done = subprocess.run([str(PROGRAM), *map(str, words)], cwd=WORK, capture_output=True, text=True)
    if done.returncode not in codes:
        raise AssertionError(f"{words}: code {done.returncode}\n{done.stdout}\n{done.stderr}")
    return done.stdout


def gouging(program):
    """The same program with one cutting move of its last operation 2 mm deeper."""
    lines = program.read_text().splitlines()
    at = [i for i, line in enumerate(lines) if " Z" in line and line.find("G1") >= 0]
    if not at:
        at = [i for i, line in enumerate(lines) if "Z" in line and "G0" not in line]
    for i in reversed(at[: len(at) * 3 // 4]):
        words = lines[i].split()
        for k, word in enumerate(words):
            if word.startswith("Z"):
                words[k] = f"Z{float(word[1:]) - 2:.3f}"
                lines[i] = " ".join(words)
                return "\n".join(lines) + "\n"
    raise AssertionError("no move to spoil")


def browser():
    options = Options()
    for word in ("--headless=new", "--no-sandbox", "--use-angle=swiftshader", "--enable-unsafe-swiftshader",
                 "--ignore-gpu-blocklist", "--force-device-scale-factor=1", "--hide-scrollbars"):
        options.add_argument(word)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
    return webdriver.Chrome(service=Service("/usr/bin/chromedriver"), options=options)


class Pages(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        WORK.mkdir(parents=True, exist_ok=True)
        (WORK / "job.toml").write_text(JOB)
        command("run", "job.toml", "--out", "run", "--yes", "--among-others")
        (WORK / "spoiled.nc").write_text(gouging(WORK / "run/program.nc"))
        command("check", "spoiled.nc", "--job", "job.toml", "--out", "check", "--among-others", codes=(1,))
        command("inspect", "job.toml", "--out", "part", "--among-others")
        cls.driver = browser()

    @classmethod
    def tearDownClass(cls):
        cls.driver.quit()

    def open(self, page, width=1280, height=800):
        # A window cannot be as narrow as a telephone; what it shows can.
        self.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride",
                                    {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False})
        self.driver.get_log("browser")
        self.driver.get((WORK / page).as_uri())
        self.wait("!!(window.yardpass && window.yardpass.ready)")

    def js(self, script):
        return self.driver.execute_script("return " + script)

    def wait(self, script, seconds=60):
        until = time.time() + seconds
        while not self.js(script):
            self.assertLess(time.time(), until, script)
            time.sleep(0.05)

    def find(self, css):
        return self.driver.find_element(By.CSS_SELECTOR, css)

    def click(self, css):
        element = self.find(css)
        self.driver.execute_script("arguments[0].scrollIntoView({block: 'center'})", element)
        element.click()

    def say(self, *keys):
        self.driver.execute_script("document.getElementById('canvas').focus()")
        ActionChains(self.driver).send_keys(*keys).perform()

    def no_complaint(self):
        told = [entry for entry in self.driver.get_log("browser")
                if entry["level"] == "SEVERE" and "favicon" not in entry["message"]]
        self.assertEqual(told, [])

    def tip(self, point):
        return self.js(f"Array.from(yardpass.way.points.slice(3 * {point}, 3 * {point} + 3))")

    def near(self, a, b, within):
        self.assertEqual(len(a), len(b))
        for x, y in zip(a, b):
            self.assertAlmostEqual(x, y, delta=within)

    # ---- a run

    def test_loads_without_complaint_and_shows_the_numbers_of_the_report(self):
        for width, height in ((1280, 800), (390, 844)):
            self.open("run/report.html", width, height)
            report = json.loads((WORK / "run/report.json").read_text())
            self.assertEqual(self.find("h1").text, "Hull plug </script> & co")
            self.assertIn("clean", self.find(".verdict").text)
            told = self.js("yardpass.about.operations.map((o) => o.seconds)")
            self.near(told, [o["seconds"] for o in report["operations"]], 1e-3)
            self.assertEqual(self.js("yardpass.about.part.triangles"), report["part"]["triangles"])
            # The times of single moves add up to that of the program.
            self.near([self.js("yardpass.way.times[yardpass.way.count]")], [sum(told)], 0.5)
            self.assertLessEqual(self.js("document.documentElement.scrollWidth"), width)
            self.no_complaint()

    def test_the_slider_moves_tool_and_stock(self):
        self.open("run/report.html")
        count = self.js("yardpass.way.count")
        for share in (0.1, 0.5, 0.9):
            point = int(share * count)
            self.driver.execute_script(
                "const s = document.getElementById('slider'); s.value = arguments[0];"
                "s.dispatchEvent(new Event('input'))", point)
            self.near(self.js("yardpass.tool()"), self.tip(point), 1e-4)
            self.assertIn(f"line {self.js(f'yardpass.way.lines[{point - 1}]')}", self.find("#now").text)
        # The stock only sinks, and its states are those of the moves between them.
        self.driver.execute_script("yardpass.player.go(0)")
        before = self.js("yardpass.stock.now.reduce((a, b) => a + b, 0)")
        self.assertAlmostEqual(self.js("Math.max(...yardpass.stock.now)"), self.js("yardpass.about.stock.high[2]"), delta=1e-3)
        self.driver.execute_script("yardpass.player.go(yardpass.way.count)")
        self.assertLess(self.js("yardpass.stock.now.reduce((a, b) => a + b, 0)"), before)

    def test_carving_on_the_page_is_that_of_the_simulation(self):
        self.open("run/report.html")
        # From each kept state to the next by the page's own carving: the same heights, but for the cutter's
        # round in straight pieces.
        worst = self.js("""(() => {
          const s = yardpass.stock, step = yardpass.about.step, found = [];
          for (let k = 0; k + 1 < s.states.length; k++) {
            s.at = -1;
            const next = s.states[k + 1].after;
            if (next === s.states[k].after) continue;
            s.go(s.states[k].after);
            for (let i = s.at + 1; i <= next; i++) s.carve(i);
            let off = 0, far = 0;
            for (let i = 0; i < s.cells; i++) {
              const d = Math.abs(s.now[i] - s.states[k + 1].heights[i] * step);
              if (d > 0.01) far++;
              off += d;
            }
            found.push([off / s.cells, far / s.cells]);
          }
          return [Math.max(...found.map((f) => f[0])), Math.max(...found.map((f) => f[1]))];
        })()""")
        self.assertLess(worst[0], 0.001)
        self.assertLess(worst[1], 0.002)

    def test_plays_pauses_and_steps(self):
        self.open("run/report.html")
        self.say(Keys.HOME)
        self.assertEqual(self.js("yardpass.player.point"), 0)
        self.say(".")
        self.assertEqual(self.js("yardpass.player.point"), 1)
        self.say("]")
        self.assertGreater(self.js("yardpass.player.point"), 1)
        self.say(Keys.HOME)
        self.say(Keys.SPACE)
        self.wait("yardpass.player.point > 3")
        self.say(Keys.SPACE)
        self.assertFalse(self.js("yardpass.player.playing"))
        self.say(Keys.END)
        self.assertEqual(self.js("yardpass.player.point"), self.js("yardpass.way.count"))

    def test_keys_and_buttons_turn_the_view(self):
        self.open("run/report.html")
        self.say("1")
        self.assertEqual(self.js("yardpass.camera.look.elevation"), 90)
        self.click("#views [data-view=front]")
        self.assertEqual(self.js("[yardpass.camera.look.azimuth, yardpass.camera.look.elevation]"), [0, 0])
        half = self.js("yardpass.camera.look.half")
        self.say("+")
        self.assertLess(self.js("yardpass.camera.look.half"), half)
        self.say(Keys.ARROW_RIGHT)
        self.assertNotEqual(self.js("yardpass.camera.look.azimuth"), 0)

    def test_operations_kinds_and_passes_can_be_hidden(self):
        self.open("run/report.html")
        everything = self.js("yardpass.way.list.length")
        self.click("#operations input")
        later = self.js("yardpass.way.list.length")
        self.assertLess(later, everything)
        self.assertEqual(self.js("yardpass.way.operations[yardpass.way.list[0]]"), 1)
        self.driver.execute_script(
            "const p = document.getElementById('passes'); p.value = '2-3'; p.dispatchEvent(new Event('change'))")
        self.assertEqual(self.js("[...new Set(Array.from(yardpass.way.list, (i) => yardpass.way.passes[i]))].sort()"), [2, 3])

    def test_a_section_cuts_and_is_not_picked_through(self):
        self.open("run/report.html")
        self.click("[name=way][value=none]")
        # From the right: what is nearest to whoever looks is cut away, and what lies behind the section is met.
        self.say("3")
        x, y = self.js("yardpass.camera.to_screen([0, 0, -30])")

        def picked():
            self.driver.execute_script("yardpass.picked(arguments[0], arguments[1])", x, y)
            return json.loads(self.find("#picked").text.split("at = ")[1].split("]")[0] + "]")

        whole = picked()
        self.say("s")
        self.assertEqual(self.js("yardpass.cut.axis"), "x")
        section = self.js("yardpass.cut.at")
        self.assertGreater(whole[0], section + 1)
        self.assertLessEqual(picked()[0], section + 0.01)
        self.no_complaint()
        self.say("s")
        self.assertEqual(self.js("yardpass.cut.axis"), "")

    def test_a_click_gives_the_place_as_text(self):
        self.open("run/report.html")
        self.click("[name=way][value=none]")
        self.say("1")
        x, y = self.js("yardpass.camera.to_screen([10, 5, 0])")
        self.driver.execute_script("yardpass.picked(arguments[0], arguments[1])", x, y)
        text = self.find("#picked").text
        at = json.loads(text.split("at = ")[1].split("]")[0] + "]")
        self.near(at[:2], [10, 5], 0.3)
        # It is the height of the stock there, and the command knows the place.
        told = command("inspect", "job.toml", "--place", f"{at[0]},{at[1]}")
        part_z = float(told.split("place 1")[1].split(" Z ")[1].split(",")[0])
        self.assertLess(part_z - 0.1, at[2])
        # By the mouse too.
        canvas = self.find("#canvas")
        self.driver.execute_script("document.getElementById('picked').textContent = ''; scrollTo(0, 0)")
        ActionChains(self.driver).move_to_element_with_offset(canvas, 10, 5).click().perform()
        self.wait("document.getElementById('picked').textContent.includes('at = [')")

    def test_clicks_draw_a_boundary(self):
        self.open("run/report.html")
        self.say("1")
        self.click("#drawing")
        for place in ([0, 0, 0], [10, 0, 0], [10, 8, 0]):
            self.driver.execute_script(
                "const [x, y] = yardpass.camera.to_screen(arguments[0]); yardpass.picked(x, y)", place)
        text = self.find("#picked").text
        points = json.loads(text.split("=")[1])
        for point, wanted in zip(points, ([0, 0], [10, 0], [10, 8])):
            self.near(point, wanted, 0.3)

    def test_what_changed_is_told_as_on_the_screen(self):
        shutil.copytree(WORK / "run", WORK / "again", dirs_exist_ok=True)
        (WORK / "other.toml").write_text(JOB.replace("stepover = 2", "stepover = 3"))
        said = command("run", "other.toml", "--out", "again", "--yes", "--among-others")
        said = [line.removeprefix("changed since the run before: ") for line in said.splitlines()
                if line.startswith("changed since the run before: ")]
        self.open("again/report.html")
        earlier = WORK / "run/report.json"
        self.assertEqual(self.js(f"YardPass.earlier.changes({json.dumps(earlier.read_text())})"), said)
        self.assertTrue(said)
        self.driver.execute_script("document.getElementById('earlier-box').open = true")
        self.find("#earlier").send_keys(str(earlier.resolve()))
        self.wait("document.getElementById('earlier-told').children.length > 0")
        self.assertEqual([one.text for one in self.driver.find_elements(By.CSS_SELECTOR, "#earlier-told li")], said)
        # Findings too: as many, but one of them elsewhere.
        self.open("check/report.html")
        report = json.loads((WORK / "check/report.json").read_text())
        self.assertEqual(self.js(f"YardPass.earlier.changes({json.dumps(json.dumps(report))})"), [])
        report["findings"][0]["line"] += 1
        self.assertEqual(self.js(f"YardPass.earlier.changes({json.dumps(json.dumps(report))})"),
                         [f"findings: as many, {len(report['findings'])}, but other ones"])
        for none_of_its in ("", "{}", "[1, 2]", '{"yardpass": "1", "title": "other"}'):
            self.assertIsNone(self.js(f"YardPass.earlier.changes({json.dumps(none_of_its)})"))
        self.no_complaint()

    def test_on_paper_it_is_the_setup_sheet(self):
        self.open("run/report.html")
        self.assertFalse(self.find("#sheet").is_displayed())
        self.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": "print"})
        try:
            self.assertTrue(self.find("#sheet").is_displayed())
            self.assertFalse(self.find("#view").is_displayed())
            text = self.find("#sheet").text
            for words in ("rough the plug", "finish the hull", "G54", "T1 flat12", "sticks out 70"):
                self.assertIn(words, text)
            self.assertEqual(len(self.driver.find_elements(By.CSS_SELECTOR, "#sheet svg")), 2)
        finally:
            self.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": ""})

    # ---- findings

    def test_a_finding_moves_the_view_and_the_tool(self):
        self.open("check/report.html")
        self.assertIn("finding", self.find(".verdict").text)
        finding = self.js("yardpass.about.findings[0]")
        self.click("#worst button")
        time.sleep(0.6)
        target = self.js("yardpass.camera.look.target.toArray()")
        self.near(target, finding["at"], 1e-6)
        line = self.js("yardpass.way.lines[yardpass.player.point - 1]")
        self.assertEqual(line, finding["worst_line"])
        self.no_complaint()

    # ---- a part alone

    def test_the_page_of_a_part_shows_regions_and_edges_to_pick(self):
        self.open("part/part.html")
        self.assertFalse(self.find("#player").is_displayed())
        self.say("1")
        report = json.loads((WORK / "part/part.json").read_text())
        # One that is seen from above.
        region = next(one for one in report["regions"] if one["least_slope"] < 60)
        spot = region["at"]
        self.driver.execute_script(
            "const [x, y] = yardpass.camera.to_screen(arguments[0]); yardpass.picked(x, y)", spot)
        self.assertIn(f"numbers = [{region['number']}]", self.find("#picked").text)
        edge = next(l for l in self.js("yardpass.about.layers") if l["kind"] == "sharp edge")
        self.assertTrue(edge)
        self.assertIn("keel", [l["name"] for l in self.js("yardpass.about.layers") if l["kind"] == "boundary"])
        self.no_complaint()


if __name__ == "__main__":
    unittest.main(argv=sys.argv[:1] + sys.argv[4:], verbosity=2)
