package leanladder.server.answer;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.change.Book;
import leanladder.change.Ripple;
import leanladder.change.policy.AddPolicy;
import leanladder.change.policy.PutStatement;
import leanladder.change.policy.RemoveStatement;
import leanladder.document.Defect;
import leanladder.document.Defects;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.estate.Account;
import leanladder.estate.Assignment;
import leanladder.estate.Policy;
import leanladder.estate.Statement;
import leanladder.estate.Target;
import leanladder.reach.Directory;
import leanladder.resolve.Climber;
import leanladder.resolve.Ground;
import leanladder.resolve.Question;
import leanladder.server.draft.Inquiry;
import leanladder.server.draft.RippleTelling;
import leanladder.server.draft.Values;
import leanladder.server.http.Answer;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import leanladder.server.http.Shape;
import leanladder.server.live.Timeline;
import org.roaringbitmap.RoaringBitmap;

/**
 * The ways to set a value for a unit, a group or an account: in the policy that is aimed at exactly this target now, else in a
 * new one; and in policies that name it among others or at another time, with their ripple beside them. Without a value, the ways
 * to say nothing there any more: none, where no policy sets one.
 */
public record WayRoutes(Inquiry.Reader inquiries, Timeline timeline) implements Room {
    private static final int OTHERS = 3;

    /**
     * A way.
     *
     * @param first whether the policy is aimed at exactly this target, or is a new one where none is
     * @param fresh whether the policy is new
     * @param refusal why it cannot be done
     * @param brings of an account: whether the value is decided for it then, and is not now
     */
    public record WayLine(
            String name,
            boolean first,
            boolean fresh,
            @Shape("Edit") JsonNode edit,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<RippleTelling.RippleCounts> ripple,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<String> refusal,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<Boolean> brings) {}

    /** The ways there are. */
    public record Ways(List<WayLine> ways) {}

    @Override
    public void routes(Api api) {
        api.get("/ways", this::ways, Ways.class);
    }

    private Answer ways(Call call) {
        Query query = call.query(Query.about("target", "setting", "value"));
        Inquiry inquiry = inquiries.of(query);
        Setting setting = inquiry.setting(query.required("setting"));
        Target target = query.target("target", inquiry.estate(), true);
        Optional<ObjectNode> statement = query.one("value").map(text -> {
            ObjectNode one = Json.NODES.objectNode().put("setting", setting.key());
            one.set("set", Values.json("value", text));
            return one;
        });
        List<Policy> exact = new ArrayList<>();
        List<Policy> wider = new ArrayList<>();
        for (Policy policy : inquiry.estate().policies()) {
            boolean sets = policy.on(setting.key()).anyMatch(s -> s instanceof Statement.Set);
            if (!policy.live() || statement.isEmpty() && !sets) continue;
            List<Target> includes = policy.assignments().stream()
                    .filter(Assignment::include)
                    .map(Assignment::target)
                    .toList();
            if (includes.equals(List.of(target))
                    && isInForce(policy, inquiry.question().at())) exact.add(policy);
            else if (includes.contains(target) || sets && reaches(policy, target, inquiry.directory()))
                wider.add(policy);
        }
        Optional<Wanted> wanted = target instanceof Target.OfAccount a
                ? inquiry.estate()
                        .account(a.id())
                        .filter(Account::active)
                        .flatMap(account -> statement.flatMap(said -> setting.type()
                                .read(said.get("set"), defect -> {})
                                .map(value -> new Wanted(account, setting, value))))
                : Optional.empty();
        List<WayLine> ways = new ArrayList<>();
        for (Policy policy : exact) ways.add(way(inquiry, policy, setting, statement, wanted, true));
        statement.ifPresent(said -> ways.add(anew(inquiry, setting, target, said, wanted, exact.isEmpty())));
        for (Policy policy : wider.subList(0, Math.min(OTHERS, wider.size())))
            ways.add(way(inquiry, policy, setting, statement, wanted, false));
        return Answer.of(new Ways(ways));
    }

    private static boolean isInForce(Policy policy, Instant at) {
        return policy.assignments().stream()
                .anyMatch(a -> a.include() && a.window().holds(at));
    }

    private static boolean reaches(Policy policy, Target target, Directory directory) {
        return policy.assignments().stream()
                .filter(Assignment::include)
                .anyMatch(a -> RoaringBitmap.intersects(directory.holding(a.target()), directory.holding(target)));
    }

    private WayLine anew(
            Inquiry inquiry,
            Setting setting,
            Target target,
            ObjectNode statement,
            Optional<Wanted> wanted,
            boolean first) {
        String name = setting.title() + " for " + inquiry.wording().target(target);
        ObjectNode body = Json.NODES.objectNode().put("name", name);
        body.putArray("statements").add(statement);
        body.putArray("assignments").addObject().put("include", target.text());
        ObjectNode edit = Json.NODES.objectNode().put("kind", AddPolicy.KIND.name());
        edit.set("policy", body);
        return told(inquiry, edit, name, wanted, first, true);
    }

    private WayLine way(
            Inquiry inquiry,
            Policy policy,
            Setting setting,
            Optional<ObjectNode> statement,
            Optional<Wanted> wanted,
            boolean first) {
        ObjectNode edit = Json.NODES.objectNode();
        if (statement.isPresent()) edit.put("kind", PutStatement.KIND.name()).set("statement", statement.get());
        else
            edit.put("kind", RemoveStatement.KIND.name())
                    .put("setting", setting.key())
                    .put("says", "set");
        edit.put("policy", policy.id());
        return told(inquiry, edit, policy.name(), wanted, first, false);
    }

    private WayLine told(
            Inquiry inquiry, ObjectNode edit, String name, Optional<Wanted> wanted, boolean first, boolean fresh) {
        Defects defects = new Defects();
        Book book = timeline.book(inquiry.snapshot());
        if (book.apply(new Place(edit, "", defects)).isEmpty())
            return new WayLine(
                    name,
                    first,
                    fresh,
                    edit,
                    Optional.empty(),
                    Optional.of(defects.all().stream()
                            .map(Defect::message)
                            .findFirst()
                            .orElse("cannot be carried out")),
                    Optional.empty());
        Question question = Question.at(inquiry.question().at());
        Ripple ripple = new Ripple(
                book,
                book.after(),
                question,
                inquiry.snapshot().moment(question).entitlements());
        return new WayLine(
                name,
                first,
                fresh,
                edit,
                Optional.of(RippleTelling.counts(ripple)),
                Optional.empty(),
                wanted.flatMap(w -> w.brings(inquiry, book.after(), ripple)));
    }

    /** What is wanted for one account. */
    private record Wanted(Account account, Setting setting, Value value) {
        Optional<Boolean> brings(Inquiry inquiry, Ground after, Ripple ripple) {
            boolean now = isDecided(inquiry.moment().climber(account), setting);
            boolean then = after.estate()
                    .account(account.id())
                    .filter(a -> isDecided(new Climber(after, inquiry.question(), ripple.seatsAfter(), a), setting))
                    .isPresent();
            return Optional.of(then && !now);
        }

        private boolean isDecided(Climber climber, Setting of) {
            return climber.outcome(of).decided().equals(value);
        }
    }
}
