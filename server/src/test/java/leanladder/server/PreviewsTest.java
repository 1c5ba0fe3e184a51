package leanladder.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.net.http.HttpResponse;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.concurrent.TimeUnit;
import leanladder.demo.DemoEstate;
import leanladder.json.Json;
import leanladder.store.ThrowAwayPostgres;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;

/** Rings, releases and consents over REST, on the demo estate. */
@Timeout(value = 2, unit = TimeUnit.MINUTES)
class PreviewsTest {
    private static final String[] CLIENT = {"Authorization", "Bearer " + RunningServer.SECRET};
    private RunningServer server;

    @BeforeEach
    void start() throws Exception {
        Clock then = Clock.fixed(Instant.parse("2026-11-25T12:00:00Z"), ZoneOffset.UTC);
        server = RunningServer.start(
                ThrowAwayPostgres.get(),
                "previews_test",
                Path.of("no-web"),
                Json.write(new DemoEstate().build()),
                then);
    }

    @AfterEach
    void stop() {
        server.close();
    }

    private JsonNode get(String path) {
        return json(server.get("/api/v1/" + path));
    }

    private static JsonNode json(HttpResponse<String> response) {
        assertThat(response.statusCode()).as(response.body()).isLessThan(300);
        return Json.read(response.body());
    }

    private JsonNode release(String setting) {
        return get("releases/" + setting).get("release");
    }

    private Set<String> roster(String ring, String which) {
        Set<String> accounts = new HashSet<>();
        get("rings/" + ring + "/accounts?limit=5000&which=" + which)
                .get("members")
                .forEach(m -> accounts.add(m.get("account").asText()));
        return accounts;
    }

    private void publish(String edit) {
        json(server.post(("{'base':" + get("session").get("change") + ",'edits':[" + edit + "]}").replace('\'', '"')));
    }

    @Test
    void whatIsCountedIsWhatTheAccountsClimb() {
        int has = 0;
        int unconsented = 0;
        int asked = 0;
        for (String list : List.of("people", "rooms", "guests", "services"))
            for (JsonNode account :
                    get("directory/" + list + "?count=1000&active=true").get("rows")) {
                JsonNode gates = get("climb?account=" + account.get("id").asText() + "&setting=meetings.captions")
                        .get("gates");
                assertThat(gates).hasSize(1);
                asked++;
                if (gates.at("/0/met").asBoolean()) has++;
                else if (gates.at("/0/evidence").asText().contains("has not consented")) unconsented++;
            }
        JsonNode line = release("meetings.captions");
        assertThat(asked).isGreaterThan(600);
        assertThat(line.get("has").asInt()).isEqualTo(has);
        assertThat(line.get("unconsented").asInt()).isEqualTo(unconsented);
        assertThat(line.get("kept").asInt()).isZero();
    }

    @Test
    void aPersonsWordMovesThemFromWhoMayToWhoDidAndBackAndNobodyElseCanGiveIt() {
        Set<String> may = roster("sea-trial", "may");
        String somebody = may.iterator().next();
        String path = "/api/v1/accounts/" + somebody + "/consents";
        assertThat(server.send("POST", path, "{\"ring\":\"sea-trial\"}").statusCode())
                .isEqualTo(401);
        assertThat(server.send("POST", path, "{\"ring\":\"sea-trial\"}", "Authorization", "Bearer wrong")
                        .statusCode())
                .isEqualTo(401);
        int before = release("meetings.captions").get("has").asInt();
        JsonNode word = json(server.send("POST", path, "{\"ring\":\"sea-trial\"}", CLIENT));
        assertThat(word.get("words").asText()).endsWith("consents to Sea trial");
        assertThat(roster("sea-trial", "did")).contains(somebody);
        assertThat(roster("sea-trial", "may")).doesNotContain(somebody).hasSize(may.size() - 1);
        assertThat(release("meetings.captions").get("has").asInt()).isEqualTo(before + 1);
        JsonNode change = get("changes/" + word.get("change"));
        assertThat(change.get("author").asText()).isNotEqualTo("Ivo Tarn");

        for (String edit : List.of(
                "{'kind':'give-consent','account':'" + somebody + "','ring':'dry-dock','at':'2026-11-25T12:00:00Z'}",
                "{'kind':'withdraw-consent','account':'" + somebody
                        + "','ring':'sea-trial','at':'2026-11-25T12:00:00Z'}",
                "{'kind':'amend-account','account':'" + somebody + "','members':{'consents':[]}}",
                "{'kind':'batch','edits':[{'kind':'amend-account','account':'" + somebody
                        + "','members':{'consents':[]}}]}",
                "{'kind':'record-consent','account':'" + somebody
                        + "','ring':'dry-dock','at':'2026-11-25T12:00:00Z','agreed':'So they say'}")) {
            HttpResponse<String> refused = server.post(
                    ("{'base':" + get("session").get("change") + ",'edits':[" + edit + "]}").replace('\'', '"'));
            assertThat(refused.statusCode()).as(edit).isEqualTo(422);
        }
        assertThat(server.send("POST", "/api/v1/drafts", "{\"takesBack\":" + word.get("change") + "}")
                        .statusCode())
                .isEqualTo(422);

        json(server.send("POST", "/api/v1/accounts/" + somebody + "/withdrawals", "{\"ring\":\"sea-trial\"}", CLIENT));
        assertThat(roster("sea-trial", "may")).isEqualTo(may);
        assertThat(server.send(
                                "POST",
                                "/api/v1/accounts/" + somebody + "/withdrawals",
                                "{\"ring\":\"sea-trial\"}",
                                CLIENT)
                        .statusCode())
                .isEqualTo(422);
    }

    @Test
    void whatComesIsToldWeekByWeekAndAsTextWithWhatIsOnlyPlanned() {
        JsonNode arrivals = get("arrivals");
        assertThat(arrivals.get("weeks").findValuesAsText("words"))
                .startsWith("The week of 9 November", "Last week", "This week", "Next week");
        assertThat(arrivals.get("text").asText())
                .contains("This week\n- Tue 24 Nov: Fetch a letter back (Mail), for Harbour trial, planned\n")
                .contains("Next week\n- Thu 3 Dec: Read in one's own language (Chat), for Harbour trial\n")
                .doesNotContain("5 Oct");
        JsonNode sea = get("arrivals?ring=sea-trial").get("weeks");
        assertThat(sea.findValuesAsText("ring")).isNotEmpty().containsOnly("sea-trial");
        // Whoever is further in and has it already is not told again.
        String insider = roster("dry-dock", "did").iterator().next();
        List<String> theirs =
                get("arrivals?who=account:" + insider).get("weeks").findValuesAsText("title");
        assertThat(theirs).isNotEmpty().doesNotHaveDuplicates();
        assertThat(get("arrivals").get("weeks").findValuesAsText("title")).hasSizeGreaterThan(theirs.size());
        assertThat(server.get("/api/v1/arrivals?ring=none").statusCode()).isEqualTo(404);
    }

    @Test
    void aWordWithAnEndIsTakenBackBeforeItAndWhoAgreedForARoomIsKept() {
        String somebody = roster("sea-trial", "may").iterator().next();
        String at = "/api/v1/accounts/" + somebody;
        json(server.send(
                "POST", at + "/consents", "{\"ring\":\"sea-trial\",\"until\":\"2026-12-24T00:00:00Z\"}", CLIENT));
        assertThat(roster("sea-trial", "did")).contains(somebody);
        json(server.send("POST", at + "/withdrawals", "{\"ring\":\"sea-trial\"}", CLIENT));
        assertThat(roster("sea-trial", "did")).doesNotContain(somebody);

        String room = get("directory/rooms").at("/rows/0/id").asText();
        for (String ring : List.of("dry-dock", "sea-trial"))
            publish("{'kind':'record-consent','account':'" + room + "','ring':'" + ring
                    + "','at':'2026-11-25T12:00:00Z','agreed':'The master'}");
        String stored = server.get("/api/v1/estate").body();
        assertThat(stored.split("\"agreed\"", -1)).hasSize(3);
    }

    @Test
    void aReleaseIsTakenAloneWhereItSaysSo() {
        String somebody = roster("sea-trial", "may").iterator().next();
        String path = "/api/v1/accounts/" + somebody + "/consents";
        publish("{'kind':'amend-release','release':'meetings.captions','members':{'oneByOne':true}}");
        json(server.send("POST", path, "{\"release\":\"meetings.captions\"}", CLIENT));
        assertThat(get("climb?account=" + somebody + "&setting=meetings.captions")
                        .toString())
                .contains("\"need\":{\"release\":true},\"met\":true");
        assertThat(roster("sea-trial", "did")).doesNotContain(somebody);
        HttpResponse<String> removed = server.post(("{'base':" + get("session").get("change")
                        + ",'edits':[{'kind':'remove-release','release':'meetings.captions'}]}")
                .replace('\'', '"'));
        assertThat(removed.statusCode()).isEqualTo(422);
        assertThat(removed.body()).contains("one account has consented to it alone");
    }

    @Test
    void aReleaseIsMovedOutwardHeldLetGoAndDrawnBack() {
        String moved =
                "{'kind':'open-release','release':'mail.fetch-back','ring':'harbour-trial','from':'2026-12-01T06:00:00Z'}";
        assertThat(get("previews").get("warnings").toString()).contains("Fetch a letter back was planned");
        publish(moved);
        assertThat(get("previews").get("warnings").toString()).doesNotContain("Fetch a letter back was planned");
        assertThat(get("releases/mail.fetch-back?at=2026-12-02T00:00:00Z")
                        .at("/release/has")
                        .asInt())
                .isGreaterThan(release("mail.fetch-back").get("has").asInt());
        publish(
                "{'kind':'pause-release','release':'mail.fetch-back','reason':'It loses mail','since':'2026-11-25T12:00:00Z'}");
        assertThat(release("mail.fetch-back").get("held").asText()).isEqualTo("It loses mail");
        assertThat(release("mail.fetch-back").at("/openings/1/planned").asBoolean())
                .isTrue();
        publish("{'kind':'resume-release','release':'mail.fetch-back'}");
        assertThat(release("mail.fetch-back").at("/openings/1/planned").asBoolean())
                .isFalse();
        publish("{'kind':'open-release','release':'mail.fetch-back','ring':'dry-dock','from':null}");
        publish(
                "{'kind':'open-early','release':'mail.fetch-back','to':'group:captains','from':'2026-11-25T00:00:00Z'}");
        assertThat(release("mail.fetch-back").get("early").toString()).contains("Captains");
        // What is stored reads back as it stands.
        var again = server.readAgain().release("mail.fetch-back").orElseThrow();
        assertThat(again.opens()).containsOnlyKeys("harbour-trial");
    }

    private List<String> names() {
        List<String> names = new ArrayList<>();
        get("previews").get("rings").forEach(r -> names.add(r.get("name").asText()));
        return names;
    }

    @Test
    void theRingsAreArrangedAndTheirSettingFollows() {
        int before = release("meetings.captions").get("has").asInt();
        JsonNode rings = get("estate").get("rings");
        String all = rings.toString()
                .replace("\"Sea trial\"", "\"Open water\"")
                .replaceFirst("\\[", "[{\"name\":\"Slipway\",\"asksConsent\":true},");
        publish("{'kind':'arrange-rings','rings':" + all + "}");
        assertThat(names()).containsExactly("Slipway", "Dry dock", "Harbour trial", "Open water", "Everyone");
        assertThat(release("meetings.captions").get("has").asInt()).isEqualTo(before);
        String somebody = roster("sea-trial", "may").iterator().next();
        publish(
                "{'kind':'add-policy','policy':{'id':'in','name':'Into the slipway','statements':[{'setting':'preview.ring','set':'slipway'}],"
                        + "'assignments':[{'include':'account:" + somebody + "'}]}}");
        assertThat(roster("slipway", "may")).containsExactly(somebody);
        // What is stored reads back, and what is named cannot be left out.
        assertThat(server.readAgain().rings()).hasSize(rings.size() + 1);
        HttpResponse<String> refused = server.post(("{'base':" + get("session").get("change")
                        + ",'edits':[{'kind':'arrange-rings','rings':" + rings + "}]}")
                .replace('\'', '"'));
        assertThat(refused.statusCode()).isEqualTo(422);
        assertThat(refused.body()).contains("lacks the ring Slipway, which is named by the policy Into the slipway");
        long arranged = get("session").get("change").asLong() - 1;
        publish("{'kind':'remove-policy','policy':'in'}");
        JsonNode draft = json(server.send("POST", "/api/v1/drafts", "{\"takesBack\":" + arranged + "}"));
        json(server.send(
                "POST",
                "/api/v1/drafts/" + draft.get("id") + "/publish",
                "{\"version\":" + draft.get("version") + "}"));
        assertThat(names()).containsExactly("Dry dock", "Harbour trial", "Sea trial", "Everyone");
    }

    @Test
    void aFurtherTrackHasItsOwnRingsReleasesAndArrivals() {
        JsonNode builders = get("previews?track=builders");
        assertThat(names(builders.get("rings"), "name")).containsExactly("Workbench", "Launched");
        assertThat(names(builders.get("releases"), "setting")).containsExactly("reports.feed");
        assertThat(names(get("previews").get("releases"), "setting"))
                .isNotEmpty()
                .doesNotContain("reports.feed");
        Set<String> arriving = new HashSet<>();
        get("arrivals?track=builders")
                .get("weeks")
                .forEach(week -> arriving.addAll(names(week.get("arrivals"), "setting")));
        assertThat(arriving).isSubsetOf("reports.feed");
        assertThat(server.get("/api/v1/arrivals?track=gone").statusCode()).isEqualTo(404);
        assertThat(server.get("/api/v1/previews?track=gone").statusCode()).isEqualTo(404);
    }

    private static List<String> names(JsonNode rows, String member) {
        List<String> names = new ArrayList<>();
        rows.forEach(row -> names.add(row.get(member).asText()));
        return names;
    }

    @Test
    void whoAgreedToTermsIsAskedAgainWhenTheyChangeAndHasItWithTheNewWord() {
        String somebody = roster("workbench", "may").iterator().next();
        String path = "/api/v1/accounts/" + somebody + "/consents";
        HttpResponse<String> old = server.send("POST", path, "{\"ring\":\"workbench\",\"terms\":1}", CLIENT);
        assertThat(old.statusCode()).as(old.body()).isEqualTo(422);
        assertThat(roster("workbench", "may")).contains(somebody);
        json(server.send("POST", path, "{\"ring\":\"workbench\",\"terms\":2}", CLIENT));
        assertThat(roster("workbench", "did")).contains(somebody);

        JsonNode track = get("previews?track=builders").at("/tracks/0/written");
        String again = track.toString()
                .replace("\"version\":2", "\"version\":3")
                .replace("\"from\":2", "\"from\":3")
                .replace("without notice", "without a word");
        publish("{'kind':'arrange-tracks','tracks':[" + again + "]}");
        assertThat(roster("workbench", "did")).doesNotContain(somebody);
        json(server.send("POST", path, "{\"ring\":\"workbench\",\"terms\":3}", CLIENT));
        assertThat(roster("workbench", "did")).contains(somebody);

        HttpResponse<String> sameVersion =
                server.post(("{'base':" + get("session").get("change")
                                + ",'edits':[{'kind':'arrange-tracks','tracks':["
                                + again.replace("named people", "anybody") + "]}]}")
                        .replace('\'', '"'));
        assertThat(sameVersion.statusCode()).as(sameVersion.body()).isEqualTo(422);
        assertThat(sameVersion.body()).contains("version");
    }

    @Test
    void whoeverIsAskedSaysYesOrNoAndWhoSaysNothingIsTold() {
        var may = roster("harbour-trial", "may").iterator();
        String no = may.next();
        String silent = may.next();
        for (String who : List.of(no, silent))
            publish("{'kind':'ask-to-join','account':'" + who
                    + "','ring':'harbour-trial','at':'2026-11-10T12:00:00Z','by':'Ivo Tarn','text':'Would you?'}");
        assertThat(get("previews").at("/rings/1/asked").asInt()).isEqualTo(2);
        String path = "/api/v1/accounts/" + no + "/refusals";
        assertThat(server.send("POST", path, "{\"ring\":\"harbour-trial\"}").statusCode())
                .isEqualTo(401);
        json(server.send("POST", path, "{\"ring\":\"harbour-trial\"}", CLIENT));
        assertThat(get("previews").at("/rings/1/declined").asInt()).isEqualTo(1);
        for (JsonNode m : get("rings/harbour-trial/accounts?limit=5000").get("members")) {
            boolean asked = List.of(no, silent).contains(m.get("account").asText());
            assertThat(m.has("asked")).isEqualTo(asked);
            assertThat(m.has("declined")).isEqualTo(m.get("account").asText().equals(no));
        }
        String name = server.readAgain().account(silent).orElseThrow().displayName();
        assertThat(get("previews").get("warnings").findValuesAsText("words"))
                .contains(name
                        + " was asked to join Harbour trial more than a week ago, and has said neither yes nor no");
        // A no is the person's own: nobody takes it back for them.
        assertThat(server.send(
                                "POST",
                                "/api/v1/drafts",
                                "{\"takesBack\":" + get("session").get("change") + "}")
                        .statusCode())
                .isEqualTo(422);
    }

    @Test
    void whatPeopleFindIsCountedListedAndDealtWith() {
        String somebody = roster("dry-dock", "did").iterator().next();
        String path = "/api/v1/accounts/" + somebody + "/feedback";
        String word =
                "{\"release\":\"chat.translate\",\"verdict\":\"fails\",\"text\":\"=It mixes up names\",\"device\":\"tablet\"}";
        assertThat(server.send("POST", path, word).statusCode()).isEqualTo(401);
        json(server.send("POST", path, word, CLIENT));
        assertThat(server.send("POST", path, word.replace("fails", "hates"), CLIENT)
                        .body())
                .contains("must be one of works, fails, idea");
        assertThat(server.send("POST", path, word.replace("chat.translate", "chat.none"), CLIENT)
                        .statusCode())
                .isEqualTo(422);
        int open = release("chat.translate").at("/feedback/open").asInt();
        assertThat(release("chat.translate").at("/feedback/fails").asInt()).isPositive();
        JsonNode line = get("feedback?account=" + somebody).at("/feedback/0");
        assertThat(line.get("title").asText()).isEqualTo("Read in one's own language");
        assertThat(server.get("/api/v1/feedback?release=chat.translate&format=csv")
                        .body())
                .contains("'=It mixes up names,tablet");
        publish("{'kind':'amend-feedback','feedback':'" + line.get("id").asText()
                + "','members':{'dealt':{'at':'2026-11-25T12:00:00Z','note':'Mended'}}}");
        assertThat(release("chat.translate").at("/feedback/open").asInt()).isEqualTo(open - 1);
        assertThat(get("feedback?which=open&account=" + somebody).get("total").asInt())
                .isZero();
        // It is in the estate file, and outlives its giver.
        assertThat(server.readAgain().feedback()).isNotEmpty();
    }

    @Test
    void aWarningBringsTheEditThatMendsIt() {
        publish(
                "{'kind':'amend-release','release':'meetings.captions','members':{'devices':['tablet'],'atLeast':5000}}");
        JsonNode warnings = get("previews").get("warnings");
        assertThat(warnings.findValuesAsText("words"))
                .contains("Spoken words on screen is for tablet, a kind of device on which Dry dock tries nothing")
                .anyMatch(w -> w.startsWith("Spoken words on screen takes 5000 to be tried, and "));
        int mended = 0;
        for (JsonNode warning : warnings) {
            if (warning.get("edit").isNull()) continue;
            JsonNode draft = json(server.send("POST", "/api/v1/drafts", "{}"));
            JsonNode staged = json(server.send(
                    "POST",
                    "/api/v1/drafts/" + draft.get("id") + "/edits",
                    "{\"version\":" + draft.get("version") + ",\"edits\":[" + warning.get("edit") + "]}"));
            JsonNode after = get("previews?draft=" + staged.get("id")).get("warnings");
            boolean asks = warning.get("mend").asText().startsWith("Ask");
            if (!asks || warning.get("mend").asText().equals("Ask again"))
                assertThat(after.findValuesAsText("words"))
                        .doesNotContain(warning.get("words").asText());
            mended++;
        }
        assertThat(mended).isGreaterThan(1);
    }

    /** The warning that holds the words. */
    private JsonNode warning(String words) {
        for (JsonNode warning : get("previews").get("warnings"))
            if (warning.get("words").asText().contains(words)) return warning;
        throw new AssertionError(
                "No warning says " + words + ": " + get("previews").get("warnings"));
    }

    @Test
    void aReleaseThatStandsLongerThanBeforeAndOneForARingWithNobodyAreTold() {
        // Open to the innermost for a week, and to the next one for longer: it lingers there, until it moves on.
        publish(
                "{'kind':'batch','edits':["
                        + "{'kind':'open-release','release':'mail.fetch-back','ring':'dry-dock','from':'2026-10-01T06:00:00Z'},"
                        + "{'kind':'open-release','release':'mail.fetch-back','ring':'harbour-trial','from':'2026-10-08T06:00:00Z'}]}");
        JsonNode lingers =
                warning("Fetch a letter back has stood in Harbour trial for 48 days; in Dry dock it stood for 7 days");
        assertThat(lingers.get("mend").asText()).isEqualTo("Open it to Sea trial");
        publish(
                "{'kind':'pause-release','release':'mail.fetch-back','reason':'It loses mail','since':'2026-11-25T12:00:00Z'}");
        assertThat(warning("Fetch a letter back is held in Harbour trial, open there for 48 days")
                        .get("mend")
                        .asText())
                .isEqualTo("Resume");
        // A ring further in than all others, in which nobody stands.
        publish("{'kind':'arrange-rings','rings':"
                + get("estate")
                        .get("rings")
                        .toString()
                        .replaceFirst("\\[", "[{\"id\":\"slipway\",\"name\":\"Slipway\",\"asksConsent\":true},")
                + "}");
        publish("{'kind':'open-release','release':'meetings.captions','ring':'slipway','from':'2026-12-01T06:00:00Z'}");
        assertThat(warning("Spoken words on screen opens to Slipway on 1 Dec, and nobody stands in it")
                        .get("mend")
                        .asText())
                .isEqualTo("Withdraw");
    }

    @Test
    void theMendForTooFewAsksEveryoneWhoMay() {
        publish("{'kind':'amend-release','release':'meetings.captions','members':{'atLeast':5000}}");
        JsonNode few = warning("Spoken words on screen takes 5000 to be tried");
        assertThat(few.get("mend").asText()).isEqualTo("Ask all of them");
        int unconsented = release("meetings.captions").get("unconsented").asInt();
        assertThat(few.at("/edit/edits")).hasSize(unconsented);
        int before = get("previews").at("/rings/2/asked").asInt();
        publish(few.get("edit").toString());
        assertThat(get("previews").at("/rings/2/asked").asInt()).isGreaterThan(before);
    }

    @Test
    void theMendForAMissingLicenceGivesTheSeat() {
        // Somebody to whom scanning comes early, with a word for a preview and without the licence that it takes.
        publish(
                "{'kind':'add-policy','policy':{'id':'scan','name':'Scan','statements':[{'setting':'files.scan','set':true}],"
                        + "'assignments':[{'include':'organisation'}]}}");
        String lacking = null;
        for (JsonNode row : get("directory/people?count=1000&active=true").get("rows")) {
            String id = row.get("id").asText();
            String gates = get("climb?account=" + id + "&setting=files.scan")
                    .get("gates")
                    .toString();
            if (gates.contains("\"need\":{\"entitlement\":[\"files\"]},\"met\":false")) lacking = id;
        }
        assertThat(lacking).as("a person without the licence for Files").isNotNull();
        publish("{'kind':'open-early','release':'files.scan','to':'account:" + lacking
                + "','from':'2026-11-25T00:00:00Z'}");
        json(server.send("POST", "/api/v1/accounts/" + lacking + "/consents", "{\"ring\":\"sea-trial\"}", CLIENT));
        publish("{'kind':'buy-seats','plan':'desk-plan','purchase':{'seats':60}}");
        String said = "Scan cargo papers has come to one account that holds no plan with what it needs";
        JsonNode warning = warning(said);
        assertThat(warning.get("mend").asText()).startsWith("Give a seat of ");
        publish(warning.get("edit").toString());
        assertThat(get("previews").get("warnings").findValuesAsText("words")).doesNotContain(said);
    }

    @Test
    void aReleaseSaysWhichSettingsAreSetTogetherWithIt() {
        JsonNode family = null;
        for (JsonNode one : get("catalogue").get("families")) family = one;
        String key = family.get("states")
                .elements()
                .next()
                .get("values")
                .fieldNames()
                .next();
        publish("{'kind':'add-release','release':{'setting':'" + key + "','opens':{}}}");
        assertThat(get("releases/" + key).get("families").findValuesAsText("id"))
                .contains(key)
                .hasSizeGreaterThan(1);
    }

    @Test
    void bothKindsOfConsentAreCountedApart() {
        publish("{'kind':'amend-release','release':'meetings.captions','members':{'oneByOne':true}}");
        String somebody = roster("sea-trial", "may").iterator().next();
        assertThat(release("meetings.captions").get("alone").asInt()).isZero();
        String path = "/api/v1/accounts/" + somebody + "/consents";
        json(server.send("POST", path, "{\"release\":\"meetings.captions\"}", CLIENT));
        assertThat(release("meetings.captions").get("alone").asInt()).isEqualTo(1);
        // Whoever takes the whole ring as well has not taken it alone.
        json(server.send("POST", path, "{\"ring\":\"sea-trial\"}", CLIENT));
        assertThat(release("meetings.captions").get("alone").asInt()).isZero();
    }

    @Test
    void readingOverSaysToHowManyMoreAReleaseOpensAndWhoWillNotHaveItYet() {
        JsonNode draft = json(server.send("POST", "/api/v1/drafts", "{}"));
        String path = "/api/v1/drafts/" + draft.get("id");
        json(server.send(
                "POST",
                path + "/edits",
                ("{'version':1,'edits':[{'kind':'open-release','release':'assistant.handover','ring':'sea-trial','from':'2026-11-25T12:00:00Z'},"
                                + "{'kind':'open-release','release':'mail.fetch-back','ring':'harbour-trial','from':'2026-12-01T06:00:00Z'}]}")
                        .replace('\'', '"')));
        JsonNode moves = json(server.get(path + "/reading")).get("releases");
        JsonNode now = moves.get(0);
        int before = sizeOf("assistant.handover", "");
        int after = sizeOf("assistant.handover", "?draft=" + draft.get("id"));
        assertThat(now.get("opened").asInt()).isEqualTo(after - before).isPositive();
        assertThat(now.get("words").asText())
                .startsWith("Opens The assistant sits in at handovers to " + (after - before) + " more; ")
                .endsWith(" of them have not consented");
        assertThat(moves.get(1).get("words").asText())
                .startsWith("Opens Fetch a letter back to ")
                .endsWith(", from Tue 1 Dec, 06:00 on");
    }

    /** To how many a release is open, consented or not. */
    private int sizeOf(String release, String query) {
        JsonNode line = get("releases/" + release + query).get("release");
        return line.get("has").asInt()
                + line.get("unconsented").asInt()
                + line.get("kept").asInt();
    }
}
