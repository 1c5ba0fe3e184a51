package leanladder.advise;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Random;
import java.util.stream.StreamSupport;
import leanladder.RandomEstate;
import leanladder.catalogue.Setting;
import leanladder.edit.session.EditSession;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.resolve.CompiledEstate;
import leanladder.workingcopy.EntityStore;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** What a newer catalogue changes, and what becomes of what is said of the older one. */
class CatalogueUpdateTest {
    private static final EntityStore NOTHING_STORED = (section, key) -> Json.NODES.objectNode();

    private ObjectNode estate;
    private ObjectNode newer;

    @BeforeEach
    void read() throws Exception {
        estate = (ObjectNode) Json.read(Files.readString(Path.of("src/test/resources/small-estate.json")));
        newer = ((ObjectNode) estate.get("catalogue")).deepCopy();
    }

    private ObjectNode setting(String key) {
        return (ObjectNode) StreamSupport.stream(newer.get("settings").spliterator(), false)
                .filter(s -> s.path("key").asText().equals(key))
                .findFirst()
                .orElseThrow();
    }

    private EditSession session() {
        return new EditSession(new CompiledEstate(RandomEstate.read(estate)), NOTHING_STORED);
    }

    private CatalogueUpdate update(EditSession session) {
        Defects defects = new Defects();
        CatalogueUpdate update = new CatalogueUpdate(session, new JsonCursor(newer, "", defects));
        assertThat(defects.all()).isEmpty();
        return update;
    }

    @Test
    void theSameCatalogueChangesNothing() {
        assertThat(update(session()).edits()).isEmpty();
    }

    @Test
    void whatIsNewOtherwiseAndGoneIsTakenOverInAnOrderThatFits() {
        setting("mail.note").put("help", "For everybody");
        ((ArrayNode) newer.get("settings")).remove(3);
        newer.withArray("apps").addObject().put("id", "tides").put("name", "Tides");
        newer.withArray("settings")
                .add(
                        Json.read(
                                "{\"key\":\"tides.warn\",\"app\":\"tides\",\"title\":\"Warn of low water\",\"type\":"
                                        + "\"switch\",\"default\":false,\"needs\":[{\"setting\":\"tides.show\",\"is\":true}],\"fallback\":false}"))
                .add(Json.read("{\"key\":\"tides.show\",\"app\":\"tides\",\"title\":\"Show tides\",\"type\":\"switch\","
                        + "\"default\":true}"));
        EditSession session = session();
        CatalogueUpdate update = update(session);
        assertThat(update.refusals()).isEmpty();
        assertThat(update.added()).extracting(Setting::key).containsExactly("tides.show", "tides.warn");
        assertThat(update.amended().keySet()).extracting(Setting::key).containsExactly("mail.note");
        assertThat(update.removed()).extracting(Setting::key).containsExactly("files.help");
        assertThat(session.compile().estate().catalogue().settings().keySet())
                .contains("tides.show", "tides.warn")
                .doesNotContain("files.help");
        assertThat(session.compile().estate().catalogue().apps()).containsKey("tides");
    }

    @Test
    void statementsThatDoNotFitAreListedAndRemovedFirst() {
        setting("files.keep").put("max", 45);
        CatalogueUpdate update = update(session());
        assertThat(update.misfits()).hasSize(1);
        CatalogueUpdate.Misfit misfit = update.misfits().get(0);
        assertThat(misfit.policyName()).isEqualTo("Room rules");
        assertThat(misfit.setting()).isPresent();
        assertThat(update.edits())
                .extracting(e -> e.kind().name())
                .containsExactly("remove-statement", "amend-setting");
        assertThat(update.refusals()).isEmpty();
    }

    @Test
    void aSettingThatHasAReleaseStaysAndItIsSaidWhy() {
        ArrayNode settings = (ArrayNode) newer.get("settings");
        settings.remove(settings.size() - 1);
        CatalogueUpdate update = update(session());
        assertThat(update.refusals())
                .singleElement()
                .asString()
                .contains("Captions")
                .contains("has a release");
    }

    @Test
    void whichSettingsWorkspacesDecideAndTheRingsStay() {
        for (JsonNode setting : estate.at("/catalogue/settings"))
            if (setting.path("key").asText().equals("mail.note")) ((ObjectNode) setting).put("openToWorkspaces", true);
        setting("preview.ring").putArray("options").add("inner").add("everyone");
        CatalogueUpdate update = update(session());
        assertThat(update.edits()).isEmpty();
    }

    @Test
    void aFileThatIsNoCatalogueHasDefectsWithTheirPlaces() {
        setting("mail.note").put("type", "colour");
        Defects defects = new Defects();
        new CatalogueUpdate(session(), new JsonCursor(newer, "/catalogue", defects));
        assertThat(defects.all()).extracting(d -> d.pointer()).contains("/catalogue/settings/6/type");
    }

    /** Random catalogues name the same settings in other ways. */
    @Property(tries = 150)
    void whatIsNotRefusedLeadsToTheNewerCatalogue(@ForAll long seed) {
        ObjectNode file = (ObjectNode) Json.read(Json.write(RandomEstate.json(seed)));
        ObjectNode other = (ObjectNode) Json.read(Json.write(RandomEstate.json(seed + new Random(seed).nextInt(5))));
        EditSession session = new EditSession(new CompiledEstate(RandomEstate.read(file)), NOTHING_STORED);
        Defects defects = new Defects();
        CatalogueUpdate update = new CatalogueUpdate(session, new JsonCursor(other.get("catalogue"), "", defects));
        if (!defects.isEmpty() || !update.refusals().isEmpty()) return;
        List<String> titles =
                titles(RandomEstate.read(other).catalogue().settings().values());
        assertThat(titles(session.compile().estate().catalogue().settings().values()))
                .isEqualTo(titles);
    }

    private static List<String> titles(Iterable<Setting> settings) {
        return StreamSupport.stream(settings.spliterator(), false)
                .filter(s -> !s.key().startsWith("preview."))
                .map(s -> {
                    ObjectNode source = s.source().deepCopy();
                    source.remove("openToWorkspaces");
                    return source.properties().stream()
                            .map(m -> m.getKey() + "=" + Json.write(m.getValue()))
                            .sorted()
                            .toList()
                            .toString();
                })
                .toList();
    }
}
