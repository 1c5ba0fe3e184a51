package leanladder.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import leanladder.catalogue.Setting;
import leanladder.demo.DemoEstate;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.estate.read.EstateReader;
import leanladder.json.Json;
import leanladder.resolve.AccountResolver;
import leanladder.resolve.CompiledEstate;
import leanladder.resolve.EvaluationContext;
import leanladder.resolve.Outcome;
import leanladder.resolve.Visibility;
import leanladder.server.TestClock;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** What the simulated suite shows is what the rule says, and nothing else: its data, and its pages in the browser. */
class SuitePagesTest {
    private static final int BY_DATA = 200;
    private static final int IN_BROWSER = 20;
    /** Looks at the page of each app and of what is coming, and tells what stands there. */
    private static final String PLACES = """
            (async () => {
              const places = [];
              for (const button of document.querySelectorAll('nav li button')) {
                button.click();
                for (let tries = 0; tries < 600; tries++) {
                  const main = document.querySelector('main');
                  if (main.querySelector('h1').innerText === button.innerText && !main.innerText.includes('Asking what')) break;
                  await new Promise(requestAnimationFrame);
                }
                for (const e of document.querySelectorAll('main [data-setting]'))
                  places.push({
                    key: e.dataset.setting, shown: e.dataset.shown, value: JSON.parse(e.dataset.value), text: e.innerText,
                    off: !!e.querySelector('[aria-disabled=true], :disabled'), field: !!e.querySelector('input, textarea, select')});
              }
              return JSON.stringify(places);
            })()""";

    private static Beside beside;
    private static Estate estate;
    private static CompiledEstate compiledEstate;
    private static EvaluationContext now;

    @BeforeAll
    static void start() throws Exception {
        TestClock testClock = TestClock.standing("2026-11-25T12:00:00Z");
        beside = new Beside("suite_pages", testClock);
        now = EvaluationContext.at(testClock.instant());
        estate = EstateReader.read(new ByteArrayInputStream(
                        Json.write(new DemoEstate().build()).getBytes(StandardCharsets.UTF_8)))
                .estate();
        compiledEstate = new CompiledEstate(estate).withSeatsGiven(testClock.instant());
    }

    @AfterAll
    static void stop() {
        beside.close();
    }

    /** Accounts of all kinds, from all over the list. */
    private static List<Account> some(int many) {
        List<Account> active =
                estate.accounts().stream().filter(Account::active).toList();
        List<Account> some = new ArrayList<>();
        for (int i = 0; i < many; i++) some.add(active.get((int) ((long) i * active.size() / many)));
        return some;
    }

    private static Map<String, Outcome> outcomes(Account account) {
        AccountResolver accountResolver = new AccountResolver(
                compiledEstate,
                now,
                compiledEstate.seats(now.at()),
                account,
                AccountResolver.touched(compiledEstate, now));
        Map<String, Outcome> outcomes = new TreeMap<>();
        for (Setting setting : estate.catalogue().settings().values())
            outcomes.put(setting.key(), accountResolver.outcome(setting));
        return outcomes;
    }

    /** As it is delivered: texts in the account's language. */
    private static JsonNode delivered(Account account, Outcome outcome) {
        return outcome.value().delivered(account.language());
    }

    private static Visibility shown(String key, Outcome outcome) {
        return Visibility.of(estate.catalogue().setting(key).orElseThrow(), outcome);
    }

    @Test
    void theSuiteHoldsForEachAccountWhatTheRuleSays() throws Exception {
        for (Account account : some(BY_DATA)) {
            JsonNode page = beside.suite(
                    "POST", "/api/pages", "{\"account\":\"" + account.id() + "\",\"deeds\":[\"restart\"]}");
            Map<String, String> held = new TreeMap<>();
            page.get("settings")
                    .forEach(s -> held.put(
                            s.get("key").asText(),
                            s.get("value") + " " + s.get("shown").asText()));
            Map<String, String> wanted = new TreeMap<>();
            outcomes(account)
                    .forEach((key, outcome) -> wanted.put(
                            key,
                            delivered(account, outcome) + " "
                                    + shown(key, outcome).word()));
            assertThat(held).as(account.id()).isEqualTo(wanted);
        }
    }

    @Test
    void everySettingHasAControlThatIsThereGreyOrAbsentAsTheCatalogueSays() throws Exception {
        try (Browser browser = new Browser(beside.suiteAddress(), 1280, 800)) {
            for (Account account : some(IN_BROWSER)) {
                Map<String, JsonNode> seen = new TreeMap<>();
                browser.open("/?as=" + account.id() + "&deed=restart");
                browser.sees(account.displayName());
                for (JsonNode place : Json.read(browser.promised(PLACES)))
                    seen.put(place.get("key").asText(), place);
                outcomes(account).forEach((key, outcome) -> check(account, key, outcome, seen.get(key)));
            }
        }
    }

    private static void check(Account account, String key, Outcome outcome, JsonNode place) {
        String what = account.id() + " " + key;
        Visibility visibility = shown(key, outcome);
        if (visibility == Visibility.ABSENT) {
            assertThat(place).as(what).isNull();
            return;
        }
        assertThat(place).as(what).isNotNull();
        assertThat(place.get("shown").asText()).as(what).isEqualTo(visibility.word());
        assertThat(place.get("value").toString())
                .as(what)
                .isEqualTo(delivered(account, outcome).toString());
        assertThat(place.get("text").asText().isBlank() && !place.get("field").asBoolean())
                .as(what)
                .isFalse();
        JsonNode meant = estate.catalogue().setting(key).orElseThrow().source();
        if (visibility == Visibility.GREYED) {
            assertThat(place.get("off").asBoolean()).as(what).isTrue();
            assertThat(place.get("text").asText())
                    .as(what)
                    .contains(meant.path("notice").asText(""));
        } else if (meant.path("type").asText("switch").equals("switch"))
            assertThat(place.get("off").asBoolean()).as(what).isFalse();
        else if (outcome.value().json().isNumber())
            assertThat(place.get("text").asText())
                    .as(what)
                    .contains(outcome.value().json().asText());
    }
}
