package leanladder.server.answer;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import leanladder.advise.Opener;
import leanladder.advise.OpenerTelling;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.change.Book;
import leanladder.change.Ripple;
import leanladder.document.Defects;
import leanladder.document.Place;
import leanladder.estate.Account;
import leanladder.resolve.Climb;
import leanladder.resolve.Climber;
import leanladder.resolve.Ground;
import leanladder.server.draft.Inquiry;
import leanladder.server.draft.RippleTelling;
import leanladder.server.http.Answer;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import leanladder.server.http.Shape;
import leanladder.server.live.Timeline;

/**
 * What would open the closed gates of one climb: at most three edits for each, those that alter the least first. Each has been carried out
 * on the side, so that only what opens the gate is told, with its ripple.
 */
public record OpenerRoutes(Inquiry.Reader inquiries, Timeline timeline) implements Room {
    private static final int MOST = 3;
    private static final int TRIED = 12;

    /** Seats of a plan that somebody else gives back by it. */
    public record TakenSeats(String planId, String plan, int accounts) {}

    /**
     * What opens a gate.
     *
     * @param cost in words; empty where it costs nothing that is known
     * @param works whether the setting works then, no other gate being closed
     * @param taken seats that others lose
     */
    public record OpenerLine(
            String words,
            String cost,
            @Shape("Edit") JsonNode edit,
            RippleTelling.RippleCounts ripple,
            boolean works,
            List<TakenSeats> taken) {}

    /** A closed gate. @param gate its place among all gates of the climb, from 0 @param openers none, where no edit opens it */
    public record ClosedGate(int gate, String need, List<OpenerLine> openers) {}

    /** The closed gates of a climb. */
    public record ClosedGates(List<ClosedGate> gates) {}

    @Override
    public void routes(Api api) {
        api.get("/openers", this::openers, ClosedGates.class);
    }

    private Answer openers(Call call) {
        Query query = call.query(Query.about("account", "setting"));
        Inquiry inquiry = inquiries.of(query);
        Account account = inquiry.account(query.required("account"));
        Setting setting = inquiry.setting(query.required("setting"));
        Climb climb = inquiry.moment().climber(account).climb(setting);
        List<ClosedGate> gates = new ArrayList<>();
        for (int i = 0; i < climb.gates().size(); i++) {
            Climb.Gate gate = climb.gates().get(i);
            if (!gate.met())
                gates.add(new ClosedGate(
                        i, inquiry.wording().need(gate.need()), openers(inquiry, climb, gate.need(), i)));
        }
        return Answer.of(new ClosedGates(gates));
    }

    private List<OpenerLine> openers(Inquiry inquiry, Climb climb, Need need, int gate) {
        return Opener.of(
                        need,
                        climb.setting(),
                        inquiry.snapshot().ground(),
                        inquiry.question(),
                        inquiry.moment().climber(climb.account()),
                        inquiry.moment().entitlements())
                .stream()
                .limit(TRIED)
                .flatMap(opener -> tried(inquiry, climb, opener, gate).stream())
                .sorted(Comparator.comparingInt((OpenerLine o) -> o.taken.size())
                        .thenComparingInt(o -> o.ripple.accounts() + o.ripple.decidedElsewhere())
                        .thenComparing(o -> !o.cost.isEmpty()))
                .limit(MOST)
                .toList();
    }

    /** What an edit comes to; empty where it does not fit, or does not open the gate. */
    private Optional<OpenerLine> tried(Inquiry inquiry, Climb climb, Opener opener, int gate) {
        Book book = timeline.book(inquiry.snapshot());
        if (book.apply(new Place(opener.edit(), "", new Defects())).isEmpty()) return Optional.empty();
        Ground after = book.after();
        Ripple ripple =
                new Ripple(book, after, inquiry.question(), inquiry.moment().entitlements());
        Account account = after.estate().account(climb.account().id()).orElseThrow();
        Setting setting =
                after.estate().catalogue().setting(climb.setting().key()).orElseThrow();
        Climb then = new Climber(after, inquiry.question(), ripple.seatsAfter(), account).climb(setting);
        if (then.gates().size() <= gate || !then.gates().get(gate).met()) return Optional.empty();
        OpenerTelling telling = new OpenerTelling(inquiry.wording(), account);
        return Optional.of(new OpenerLine(
                telling.words(opener),
                telling.cost(opener),
                opener.edit(),
                RippleTelling.counts(ripple),
                then.outcome().blockedBy().isEmpty(),
                ripple.seats().stream()
                        .filter(s -> !s.returned().isEmpty())
                        .map(s -> new TakenSeats(
                                s.plan().id(), s.plan().name(), s.returned().getCardinality()))
                        .toList()));
    }
}
