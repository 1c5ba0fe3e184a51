package leanladder.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import leanladder.json.Json;
import leanladder.server.RunningServer;
import org.junit.jupiter.api.Test;

/** Rings, consents and releases in the real interface. */
class PreviewEditingTest extends Editing {
    @Test
    void aTesterIsPutIntoARingConsentsAndTheReleaseMovesOutwardIsHeldAndDrawnBack() {
        browser.open("/previews");
        browser.sees("Check before you start");
        browser.sees("Only Ivo Tarn has consented in Dry dock");
        browser.press("Who is in Dry dock");
        browser.sees("It is written into");
        browser.choose("Put somebody into the ring", "zofia lisowa", "Zofia Lisowa");
        browser.sees("1 of 2 not yet");
        String room = Json.read(server.get("/api/v1/directory/rooms").body())
                .at("/rows/0/name")
                .asText();
        browser.choose("Put somebody into the ring", room, room);
        browser.sees("2 of 3 not yet");
        browser.press("Add or take out many by pasting a list");
        browser.type("Addresses, one a line", "mirela.osk@skerrymore.example");
        browser.press("Look through the list");
        browser.press("Add 1 account");
        browser.sees("3 of 4 not yet");
        browser.press("Ask to join");
        browser.sees("3 accounts not asked yet");
        browser.type("The text", "Would you try it with us?");
        browser.press("Mark 3 accounts as asked");
        browser.sees("asked");
        browser.press("Record the word of " + room);
        browser.type("Who looks after " + room + ", and agreed that it takes part in Dry dock?", "The master");
        browser.press("Record it");
        browser.sees("2 joined");
        browser.tick("Tick Mirela Osk");
        browser.press("Remove them");
        browser.sees("1 of 3 not yet");
        browser.press("Review");
        browser.press("Publish");
        browser.sees("is published");
        browser.open("/previews/ring/dry-dock");
        browser.sees("Zofia Lisowa");
        server.send(
                "POST",
                "/api/v1/accounts/zofia.lisowa/consents",
                "{\"ring\":\"dry-dock\"}",
                "Authorization",
                "Bearer " + RunningServer.SECRET);
        // Nobody reloads: she moves from who may to who did, and the warning goes.
        browser.sees("3 joined");
        browser.until("The warning goes", () -> !browser.body().contains("Only Ivo Tarn has consented"));

        browser.open("/previews/release/meetings.captions");
        browser.sees("It has come to");
        browser.press("Open Spoken words on screen to Everyone now");
        browser.sees("gain");
        browser.type("Why it is held", "It mixes languages up");
        browser.press("Hold");
        browser.sees("Held:");
        browser.press("Resume");
        browser.choose("Open it early", "captains", "Captains");
        browser.sees("No longer");
        browser.press("Review");
        browser.sees("Spoken words on screen opens early to Captains");
        browser.press("Publish");
        browser.sees("is published");
        browser.open("/previews/release/meetings.captions");
        browser.press("Withdraw Spoken words on screen from Everyone");
        browser.sees("1 edit");
    }

    @Test
    void aGroupGetsOneFeatureInTwoPressesAndSubscribersSeeADayMove() throws Exception {
        browser.open("/previews");
        browser.press("As a calendar");
        browser.sees("It has no address yet");
        browser.press("Give it one");
        browser.sees("renewing it shuts the one before");
        String address = browser.valueOf("Its address");
        JsonNode before = opening(address, "Pages in one's own language opens to Dry dock");
        assertThat(before.get("wholeDay").asBoolean()).isTrue();
        assertThat(before.get("from").asText()).isEqualTo("2026-12-07");
        assertThat(before.get("until").asText()).isEqualTo("2026-12-08");

        browser.open("/ladder?who=group:captains&what=setting:pages.translate");
        browser.press("Open it early to Captains");
        browser.sees("1 edit");
        browser.open("/previews/release/pages.translate");
        browser.sees("Captains");
        browser.press("Another day");
        browser.type("Opens to Dry dock", "11 dec 9:00");
        browser.press("Set");
        browser.sees("opens Fri 11 Dec, 09:00");
        browser.press("Review");
        browser.sees("Pages in one's own language opens early to Captains");
        browser.press("Publish");
        browser.sees("is published");

        JsonNode after = opening(address, "Pages in one's own language opens to Dry dock");
        assertThat(after.get("uid")).isEqualTo(before.get("uid"));
        assertThat(after.get("from").asText()).isEqualTo("2026-12-11");
        assertThat(after.get("sequence").asInt())
                .isGreaterThan(before.get("sequence").asInt());
        assertThat(opening(address, "Pages in one's own language opens early to Captains")
                        .get("status")
                        .asText())
                .isEqualTo("CONFIRMED");
    }

    /** One event of a calendar, as a reader in JavaScript that is not ours has it. */
    private JsonNode opening(String address, String summary) throws Exception {
        String text = server.get(URI.create(address).getPath()).body();
        Process reader = new ProcessBuilder("node", "scripts/read-calendar.mjs")
                .directory(Path.of("../web").toFile())
                .redirectError(ProcessBuilder.Redirect.INHERIT)
                .start();
        reader.getOutputStream().write(text.getBytes(StandardCharsets.UTF_8));
        reader.getOutputStream().close();
        JsonNode events = Json.read(new String(reader.getInputStream().readAllBytes(), StandardCharsets.UTF_8));
        for (JsonNode event : events) if (event.get("summary").asText().equals(summary)) return event;
        throw new AssertionError("No \"" + summary + "\" among " + events);
    }

    @Test
    void whatAPersonFindsIsReadAndDealtWithAndRingsAreArranged() {
        browser.open("/previews/release/files.scan");
        browser.sees("A crumpled waybill is cut off at the fold");
        server.send(
                "POST",
                "/api/v1/accounts/ivo.tarn/feedback",
                "{\"release\":\"files.scan\",\"verdict\":\"idea\",\"text\":\"Straighten the page\",\"device\":\"phone\"}",
                "Authorization",
                "Bearer " + RunningServer.SECRET);
        browser.sees("Straighten the page");
        browser.press("Deal with the word of Ivo Tarn");
        browser.type("What was done about it", "In the next version");
        browser.press("Mark it");
        browser.sees("dealt with: In the next version");

        browser.press("Arrange the rings");
        browser.press("One more, inside all others");
        browser.type("Name of the new ring", "Slipway");
        browser.press("Arrange them so");
        browser.sees("0 allowed, 0 joined");
        browser.press("Review");
        browser.sees("Slipway is a new preview ring, inside Dry dock");
        browser.press("Publish");
        browser.sees("is published");
    }
}
