package leanladder.cli;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.concurrent.Callable;
import leanladder.json.Json;
import leanladder.resolve.CompiledEstate;
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

    @Option(
            names = "--causes",
            description = "also by which rule each of them has a seat or waits, and since when a seat is held")
    private boolean causes;

    @Override
    public Integer call() throws CliException {
        CompiledEstate compiledEstate = file.compiledEstate();
        for (String plan : plans)
            if (compiledEstate.estate().plans().stream().noneMatch(p -> p.id().equals(plan)))
                throw CliException.wrongUse("The estate has no plan \"" + plan + "\".");
        PrintStream out = new PrintStream(System.out, false, StandardCharsets.UTF_8);
        for (Allocation allocation : compiledEstate.seats(file.instant()).allocations()) {
            if (!plans.isEmpty() && !plans.contains(allocation.plan().id())) continue;
            ObjectNode line = Json.NODES.objectNode();
            line.put("plan", allocation.plan().id());
            list(line, "seated", allocation.seatedInOrder());
            list(line, "waiting", allocation.waiting());
            list(line, "released", allocation.released());
            if (causes) causes(line.putArray("causes"), allocation, compiledEstate);
            out.print(Json.write(line) + "\n");
        }
        out.flush();
        return 0;
    }

    /** For each claim, in its order: the first rule whose target holds the account, from 1, and since when the seat is held. */
    private static void causes(ArrayNode to, Allocation allocation, CompiledEstate compiledEstate) {
        for (String account : allocation.claims()) {
            int number = compiledEstate.directory().number(account);
            ObjectNode cause = to.addObject().put("account", account);
            allocation
                    .firstRule(number)
                    .ifPresent(rule -> cause.put("rule", rule)
                            .put(
                                    "includes",
                                    allocation
                                            .plan()
                                            .rules()
                                            .get(rule - 1)
                                            .assignment()
                                            .target()
                                            .text()));
            allocation.granted(number).ifPresent(granted -> cause.put("granted", granted.toString()));
        }
    }

    private static void list(ObjectNode line, String member, List<String> ids) {
        var array = line.putArray(member);
        ids.forEach(array::add);
    }
}
