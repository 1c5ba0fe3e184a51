package leanladder.demo;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.ByteArrayInputStream;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import leanladder.estate.Estate;
import leanladder.estate.read.EstateReader;
import leanladder.json.Json;
import leanladder.resolve.ColumnResolver;
import leanladder.resolve.CompiledEstate;
import leanladder.resolve.EvaluationContext;
import org.junit.jupiter.api.Test;

class DemoEstateTest {
    private static final Instant TODAY = Instant.parse("2026-11-23T12:00:00Z");

    private static EstateReader.Result read(ObjectNode estate) throws Exception {
        return EstateReader.read(new ByteArrayInputStream(Json.write(estate).getBytes(StandardCharsets.UTF_8)));
    }

    @Test
    void theDemoIsValidWithoutAWarningAndTheSameEveryTime() throws Exception {
        ObjectNode estate = new DemoEstate().build();
        assertThat(read(estate).warnings()).isEmpty();
        assertThat(Json.write(new DemoEstate().build())).isEqualTo(Json.write(estate));
        assertThat(estate.get("accounts").size()).isBetween(620, 660);
        assertThat(estate.at("/catalogue/settings").size()).isBetween(170, 190);
    }

    @Test
    void itsStoriesHold() throws Exception {
        Estate estate = read(new DemoEstate().build()).estate();
        CompiledEstate compiledEstate = new CompiledEstate(estate);
        ColumnResolver columnResolver = new ColumnResolver(compiledEstate, EvaluationContext.at(TODAY));
        var assistant = columnResolver.entitlements().allocations().stream()
                .filter(a -> a.plan().name().equals("Assistant add-on"))
                .findFirst()
                .orElseThrow();
        assertThat(assistant.seatedInOrder()).hasSize(25);
        assertThat(assistant.waiting()).hasSize(5);
        var ringed = columnResolver.column("preview.ring").inForce();
        assertThat(ringed.get(new leanladder.catalogue.Value.Choice("dry-dock")).getCardinality())
                .as("testers in the dry dock")
                .isEqualTo(1);
        var mirela = compiledEstate.directory().number("mirela.osk");
        assertThat(columnResolver.column("chat.private").of(mirela).policy()).contains("bridge-under-way");
        assertThat(columnResolver
                        .column("files.share")
                        .of(compiledEstate.directory().number("joaquim.lamego"))
                        .cappedBy())
                .contains("outside-sharing");
        assertThat(columnResolver
                        .column("chat.private")
                        .of(compiledEstate.directory().number("tobin.velho"))
                        .policy())
                .contains("relief-captain");
    }
}
