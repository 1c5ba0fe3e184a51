package leanladder.resolve;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Optional;
import java.util.stream.Stream;
import leanladder.RandomEstate;
import leanladder.estate.Account;
import leanladder.json.Json;
import leanladder.seat.Allocation;
import leanladder.seat.Entitlements;
import org.junit.jupiter.api.DynamicTest;
import org.junit.jupiter.api.TestFactory;

class WorkedCasesTest {
    @TestFactory
    Stream<DynamicTest> everyWorkedCaseComesOutAsWritten() throws IOException {
        return Files.list(Path.of("src/test/resources/cases"))
                .sorted()
                .map(file -> DynamicTest.dynamicTest(
                        file.getFileName().toString(), () -> check(Json.read(Files.readString(file)))));
    }

    private static void check(JsonNode written) {
        CompiledEstate compiledEstate = new CompiledEstate(RandomEstate.read(written.get("estate")));
        EvaluationContext evaluationContext = new EvaluationContext(
                Instant.parse(written.get("at").asText()),
                Optional.ofNullable(written.get("workspace")).map(JsonNode::asText));
        Entitlements entitlements = compiledEstate.seats(evaluationContext.at());
        ColumnResolver columnResolver = new ColumnResolver(compiledEstate, evaluationContext);
        for (JsonNode expected : written.get("expect")) {
            Account account = compiledEstate
                    .estate()
                    .account(expected.get("account").asText())
                    .orElseThrow();
            var setting = compiledEstate
                    .estate()
                    .catalogue()
                    .setting(expected.get("setting").asText())
                    .orElseThrow();
            Outcome climbed =
                    new AccountResolver(compiledEstate, evaluationContext, entitlements, account).outcome(setting);
            Outcome solved = columnResolver
                    .column(setting.key())
                    .of(compiledEstate.directory().number(account.id()));
            for (Outcome outcome : new Outcome[] {climbed, solved}) {
                ObjectNode line = outcome.json(account.id(), setting.key());
                expected.fields()
                        .forEachRemaining(member -> assertThat(Json.write(line.get(member.getKey())))
                                .as("%s of %s", member.getKey(), line)
                                .isEqualTo(Json.write(member.getValue())));
            }
        }
        for (JsonNode expected : written.path("expectSeats")) {
            Allocation allocation = entitlements.allocations().stream()
                    .filter(a -> a.plan().id().equals(expected.get("plan").asText()))
                    .findFirst()
                    .orElseThrow();
            assertThat(allocation.seatedInOrder()).isEqualTo(texts(expected.get("seated")));
            assertThat(allocation.waiting()).isEqualTo(texts(expected.get("waiting")));
            assertThat(allocation.released()).isEqualTo(texts(expected.get("released")));
        }
    }

    private static java.util.List<String> texts(JsonNode list) {
        return Json.MAPPER.convertValue(list, new com.fasterxml.jackson.core.type.TypeReference<>() {});
    }
}
