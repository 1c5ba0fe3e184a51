package leanladder.server.explain;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import leanladder.advise.GateRemedy;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.json.Defects;
import leanladder.resolve.AccountResolver;
import leanladder.resolve.Climb;
import leanladder.resolve.CompiledEstate;
import leanladder.ripple.Ripple;
import leanladder.server.draft.RippleFormatter;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.http.description.SchemaRef;
import leanladder.server.query.QueryContext;
import leanladder.server.state.Timeline;
import leanladder.text.GateRemedyFormatter;

/**
 * What would open the closed gates of one climb: at most three edits for each, those that alter the least first. Each has been carried out
 * on the side, so that only what opens the gate is told, with its ripple.
 */
public record GateRemedyRoutes(QueryContext.Reader queries, Timeline timeline) implements RouteGroup {
    private static final int MOST = 3;
    private static final int TRIED = 12;

    /** Seats of a plan that somebody else gives back by it. */
    public record SeatChange(String planId, String plan, int accounts) {}

    /**
     * What opens a gate.
     *
     * @param cost in words; empty where it costs nothing that is known
     * @param works whether the setting works then, no other gate being closed
     * @param taken seats that others lose
     */
    public record GateRemedyLine(
            String words,
            String cost,
            @SchemaRef("Edit") JsonNode edit,
            RippleFormatter.RippleCounts ripple,
            boolean works,
            List<SeatChange> taken) {}

    /** A closed gate. @param gate its place among all gates of the climb, from 0 @param remedies none, where no edit opens it */
    public record ClosedGate(int gate, String need, List<GateRemedyLine> remedies) {}

    /** The closed gates of a climb. */
    public record ClosedGates(List<ClosedGate> gates) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/gate-remedies", this::remedies, ClosedGates.class);
    }

    private Response remedies(RequestContext requestContext) {
        QueryParameters queryParameters = requestContext.query(QueryParameters.about("account", "setting"));
        QueryContext queryContext = queries.read(queryParameters);
        Account account = queryContext.account(queryParameters.required("account"));
        Setting setting = queryContext.setting(queryParameters.required("setting"));
        Climb climb = queryContext.instantResolution().climber(account).climb(setting);
        List<ClosedGate> gates = new ArrayList<>();
        for (int i = 0; i < climb.gates().size(); i++) {
            Climb.Gate gate = climb.gates().get(i);
            if (!gate.met())
                gates.add(new ClosedGate(
                        i,
                        queryContext.estateFormatter().need(gate.need()),
                        remedies(queryContext, climb, gate.need(), i)));
        }
        return Response.of(new ClosedGates(gates));
    }

    private List<GateRemedyLine> remedies(QueryContext queryContext, Climb climb, Need need, int gate) {
        return GateRemedy.findAll(
                        need,
                        climb.setting(),
                        queryContext.snapshot().compiledEstate(),
                        queryContext.question(),
                        queryContext.instantResolution().climber(climb.account()),
                        queryContext.instantResolution().entitlements())
                .stream()
                .limit(TRIED)
                .flatMap(gateRemedy -> tried(queryContext, climb, gateRemedy, gate).stream())
                .sorted(Comparator.comparingInt((GateRemedyLine o) -> o.taken.size())
                        .thenComparingInt(o -> o.ripple.accounts() + o.ripple.decidedElsewhere())
                        .thenComparing(o -> !o.cost.isEmpty()))
                .limit(MOST)
                .toList();
    }

    /** What an edit comes to; empty where it does not fit, or does not open the gate. */
    private Optional<GateRemedyLine> tried(QueryContext queryContext, Climb climb, GateRemedy gateRemedy, int gate) {
        Optional<EditTrial> trial =
                EditTrial.of(gateRemedy.edit(), queryContext, queryContext.question(), timeline, new Defects());
        if (trial.isEmpty()) return Optional.empty();
        CompiledEstate after = trial.get().after();
        Ripple ripple = trial.get().ripple();
        Account account = after.estate().account(climb.account().id()).orElseThrow();
        Setting setting =
                after.estate().catalogue().setting(climb.setting().key()).orElseThrow();
        Climb then = new AccountResolver(after, queryContext.question(), ripple.seatsAfter(), account).climb(setting);
        if (then.gates().size() <= gate || !then.gates().get(gate).met()) return Optional.empty();
        GateRemedyFormatter telling = new GateRemedyFormatter(queryContext.estateFormatter(), account);
        return Optional.of(new GateRemedyLine(
                telling.words(gateRemedy),
                telling.cost(gateRemedy),
                gateRemedy.edit(),
                RippleFormatter.counts(ripple),
                then.outcome().blockedBy().isEmpty(),
                ripple.seats().stream()
                        .filter(s -> !s.returned().isEmpty())
                        .map(s -> new SeatChange(
                                s.plan().id(), s.plan().name(), s.returned().getCardinality()))
                        .toList()));
    }
}
