package leanladder.cli;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.concurrent.Callable;
import leanladder.document.Json;
import leanladder.preview.Coming;
import leanladder.resolve.Ground;
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
    public Integer call() throws Refusal {
        Ground ground = file.ground();
        Instant at = file.instant();
        PrintStream out = new PrintStream(System.out, false, StandardCharsets.UTF_8);
        for (Coming coming : Coming.between(ground.estate(), at.minus(BEFORE), at.plus(AFTER))) {
            ObjectNode line = Json.NODES
                    .objectNode()
                    .put("at", coming.at().toString())
                    .put("setting", coming.release().setting())
                    .put(coming.ring().isPresent() ? "ring" : "to", coming.whom())
                    .put("planned", coming.planned());
            coming.release().held().ifPresent(reason -> line.put("held", reason));
            out.print(Json.write(line) + "\n");
        }
        out.flush();
        return 0;
    }
}
