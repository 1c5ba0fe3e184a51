package leanladder.cli;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.concurrent.Callable;
import leanladder.json.Json;
import leanladder.preview.ScheduledOpening;
import leanladder.resolve.CompiledEstate;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;

/** Writes what came in the two weeks before an instant and comes in the six after it, one opening a line. */
@Command(name = "arrivals", description = "Tells which releases open to whom, and when.")
final class Arrivals implements Callable<Integer> {
    private static final Duration BEFORE = Duration.ofDays(14);
    private static final Duration AFTER = Duration.ofDays(42);

    @Mixin
    private EstateFile file;

    @Override
    public Integer call() throws CliException {
        CompiledEstate compiledEstate = file.compiledEstate();
        Instant at = file.instant();
        PrintStream out = new PrintStream(System.out, false, StandardCharsets.UTF_8);
        for (ScheduledOpening scheduledOpening :
                ScheduledOpening.between(compiledEstate.estate(), at.minus(BEFORE), at.plus(AFTER))) {
            ObjectNode line = Json.NODES
                    .objectNode()
                    .put("at", scheduledOpening.at().toString())
                    .put("setting", scheduledOpening.release().setting())
                    .put(scheduledOpening.ring().isPresent() ? "ring" : "to", scheduledOpening.whom())
                    .put("planned", scheduledOpening.planned());
            scheduledOpening.release().held().ifPresent(reason -> line.put("held", reason));
            out.print(Json.write(line) + "\n");
        }
        out.flush();
        return 0;
    }
}
