package leanladder.store;

import com.fasterxml.jackson.databind.node.ArrayNode;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import leanladder.estate.Estate;
import leanladder.estate.Plan;
import leanladder.json.Json;
import leanladder.resolve.CompiledEstate;
import leanladder.seat.PlanLedger;
import leanladder.seat.SeatLedger;
import leanladder.store.entities.EntityTable;
import leanladder.store.seats.HeldSeat;
import leanladder.store.seats.MovedSeat;
import leanladder.text.SeatChangeReason;

/** What the table of seats holds of a ledger. */
public final class SeatRows {
    private static final String LISTED = "the estate file lists it";
    private static final String WAS_FREE = "a seat was free when the file was loaded";

    private SeatRows() {}

    /**
     * The seats that passed on between two estates, each with the reason.
     *
     * @param at the instant at which they did
     * @param byTime whether nobody edited anything
     */
    public static List<MovedSeat> moved(CompiledEstate before, CompiledEstate after, Instant at, boolean byTime) {
        List<MovedSeat> moves = new ArrayList<>();
        for (SeatLedger.Move move : after.seatLedger().since(before.seatLedger())) {
            SeatChangeReason telling = new SeatChangeReason(before, after, at, byTime, move);
            PlanLedger was = before.seatLedger().page(move.plan());
            PlanLedger is = after.seatLedger().page(move.plan());
            move.returned()
                    .forEach((int n) -> moves.add(new MovedSeat(
                            move.plan(),
                            before.directory().account(n).id(),
                            false,
                            was.granted(n).orElseThrow().toString(),
                            telling.returned(n))));
            move.given()
                    .forEach((int n) -> moves.add(new MovedSeat(
                            move.plan(),
                            after.directory().account(n).id(),
                            true,
                            is.granted(n).orElseThrow().toString(),
                            telling.given(n))));
        }
        return moves;
    }

    /**
     * The ledger that comes with a file.
     *
     * @param read the estate with the holders that the file lists
     * @param compiledEstate the same with the ledger as it is once all seats that are free have been given
     */
    public static EntityTable.Seats loaded(Estate read, CompiledEstate compiledEstate) {
        Map<String, String> listed = new HashMap<>();
        read.holders().forEach((plan, holders) -> listed.put(plan, Json.write(written(holders))));
        return new EntityTable.Seats(
                listed,
                read.plans().stream()
                        .flatMap(p -> held(p.id(), read.holders().getOrDefault(p.id(), List.of()), compiledEstate)));
    }

    private static ArrayNode written(List<Plan.Holder> holders) {
        ArrayNode written = Json.NODES.arrayNode(holders.size());
        for (Plan.Holder holder : holders) {
            if (holder.source().isPresent()) written.add(holder.source().get());
            else
                written.addObject()
                        .put("account", holder.account())
                        .put("granted", holder.granted().toString());
        }
        return written;
    }

    private static Stream<HeldSeat> held(String plan, List<Plan.Holder> listed, CompiledEstate compiledEstate) {
        PlanLedger planLedger = compiledEstate.seatLedger().page(plan);
        var fresh = planLedger.holders().clone();
        listed.forEach(h -> fresh.remove(compiledEstate.directory().number(h.account())));
        Stream<HeldSeat> stay = listed.stream()
                .filter(h ->
                        planLedger.holders().contains(compiledEstate.directory().number(h.account())))
                .map(h -> new HeldSeat(
                        plan, h.account(), h.granted().toString(), h.source().map(Json::write), LISTED));
        Stream<HeldSeat> given = IntStream.of(fresh.toArray())
                .mapToObj(n -> new HeldSeat(
                        plan,
                        compiledEstate.directory().account(n).id(),
                        planLedger.granted(n).orElseThrow().toString(),
                        Optional.empty(),
                        WAS_FREE));
        return Stream.concat(stay, given);
    }
}
