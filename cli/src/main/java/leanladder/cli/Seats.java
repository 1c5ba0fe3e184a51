package leanladder.cli;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.concurrent.Callable;
import leanladder.document.Json;
import leanladder.resolve.Ground;
import leanladder.seat.Allocation;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** Writes who is seated, who waits and who gives a seat back, for each licence plan. */
@Command(name = "seats", description = "Tells who has a seat of each licence plan.")
final class Seats implements Callable<Integer> {
    @Mixin
    private EstateFile file;

    @Option(names = "--plan", paramLabel = "ID", description = "only this plan; may be given several times")
    private List<String> plans = List.of();

    @Override
    public Integer call() throws Refusal {
        Ground ground = file.ground();
        for (String plan : plans)
            if (ground.estate().plans().stream().noneMatch(p -> p.id().equals(plan)))
                throw Refusal.wrongUse("The estate has no plan \"" + plan + "\".");
        PrintStream out = new PrintStream(System.out, false, StandardCharsets.UTF_8);
        for (Allocation allocation : ground.seats(file.instant()).allocations()) {
            if (!plans.isEmpty() && !plans.contains(allocation.plan().id())) continue;
            ObjectNode line = Json.NODES.objectNode();
            line.put("plan", allocation.plan().id());
            list(line, "seated", allocation.seatedInOrder());
            list(line, "waiting", allocation.waiting());
            list(line, "released", allocation.released());
            out.print(Json.write(line) + "\n");
        }
        out.flush();
        return 0;
    }

    private static void list(ObjectNode line, String member, List<String> ids) {
        var array = line.putArray(member);
        ids.forEach(array::add);
    }
}
