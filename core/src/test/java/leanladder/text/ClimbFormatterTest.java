package leanladder.text;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;
import java.util.stream.Collectors;
import leanladder.RandomEstate;
import leanladder.json.Json;
import leanladder.resolve.AccountResolver;
import leanladder.resolve.CompiledEstate;
import leanladder.resolve.EvaluationContext;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

class ClimbFormatterTest {
    private ObjectNode estate;

    @BeforeEach
    void read() throws IOException {
        estate = (ObjectNode) Json.read(Files.readString(Path.of("src/test/resources/small-estate.json")));
    }

    private ClimbFormatter tell(String account, String setting, Optional<String> workspace) {
        CompiledEstate compiledEstate = new CompiledEstate(RandomEstate.read(estate));
        EvaluationContext evaluationContext = new EvaluationContext(RandomEstate.NOW, workspace);
        var entitlements = compiledEstate.seats(evaluationContext.at());
        AccountResolver accountResolver = new AccountResolver(
                compiledEstate,
                evaluationContext,
                entitlements,
                compiledEstate.estate().account(account).orElseThrow());
        return new ClimbFormatter(
                compiledEstate,
                accountResolver.climb(
                        compiledEstate.estate().catalogue().setting(setting).orElseThrow()));
    }

    private String sentence(String account, String setting) {
        ClimbFormatter telling = tell(account, setting, Optional.empty());
        return telling.answer() + ". "
                + telling.because().stream().map(ClimbFormatter.Piece::text).collect(Collectors.joining());
    }

    private void policy(String id, String statement, String target) {
        ((ArrayNode) estate.get("policies"))
                .add(Json.read("{\"id\":\"" + id + "\",\"name\":\"" + id + "\",\"statements\":[" + statement
                        + "],\"assignments\":[{\"include\":\"" + target + "\"}]}"));
    }

    @Test
    void everyStandingHasItsSentence() {
        assertThat(sentence("a2", "mail.note"))
                .isEqualTo("no text. Note for Tobin. That is the built-in value: no policy for this account sets it.");
        assertThat(sentence("a2", "chat.sidebar"))
                .isEqualTo(
                        "No. Sidebar is off for Tobin. No policy for this account sets it, so it follows Start private chats.");
        assertThat(sentence("a2", "files.keep"))
                .isEqualTo("60. Keep for for Tobin. Room rules set it to 60 for the whole organisation.");
        assertThat(sentence("a1", "chat.private"))
                .isEqualTo(
                        "No. Start private chats is off for Mirela Osk. Quiet bridge turned it off, and locked it, for Mirela Osk by name.");
        policy("Loose", "{\"setting\":\"files.share\",\"set\":\"anyone\"}", "group:g2");
        assertThat(sentence("a1", "files.share"))
                .isEqualTo(
                        "Firms. Share outside for Mirela Osk. Loose asks for anyone, but Quiet bridge caps it at firms for Mirela Osk by name.");
        policy("Lists", "{\"setting\":\"mail.blocked\",\"set\":[\"a\",\"b\",\"c\",\"d\"]}", "group:g2");
        policy("More", "{\"setting\":\"mail.blocked\",\"set\":[\"e\"]}", "organisation");
        assertThat(sentence("a1", "mail.blocked"))
                .isEqualTo(
                        "Five entries. Blocked for Mirela Osk: a, b, c and 2 more. Lists set the list for the group All officers › Bridge officers; another policy adds to it.");
        ((ObjectNode) estate.at("/policies/0")).put("state", "paused");
        ((ArrayNode) estate.at("/plans/0/rules")).removeAll();
        assertThat(sentence("a1", "chat.private"))
                .isEqualTo(
                        "No. Start private chats is off for Mirela Osk. The built-in value is on, but one gate is closed: no Deck plan rule includes this account.");
    }

    @Test
    void theTextForATicketNamesGatesAndEveryStatementWithItsReason() {
        policy("Person", "{\"setting\":\"chat.private\",\"set\":true}", "account:a2");
        assertThat(tell("a2", "chat.private", Optional.empty()).text())
                .isEqualTo(
                        "No. Start private chats is off for Tobin. Quiet bridge turned it off, and locked it, for Fleet.\n"
                                + "\nClimb, from the top:\n"
                                + "  person: Person sets On (Tobin by name) — cut off by the lock below\n"
                                + "  unit: Quiet bridge sets Off and locks it (Fleet) — decides, locked\n"
                                + "  builtin: the catalogue says On — lower rung\n");
    }
}
