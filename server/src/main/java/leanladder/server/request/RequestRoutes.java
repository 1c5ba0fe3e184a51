package leanladder.server.request;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.estate.Account;
import leanladder.estate.Workspace;
import leanladder.resolve.Question;
import leanladder.server.access.ClientSecret;
import leanladder.server.draft.Inquiry;
import leanladder.server.http.Answer;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Limits;
import leanladder.server.http.Problem;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import leanladder.server.http.Sent;
import leanladder.server.http.Shape;
import leanladder.server.live.Snapshot;
import leanladder.server.live.Timeline;
import leanladder.server.mail.Post;
import leanladder.server.today.Matter;
import leanladder.server.today.Matters;
import leanladder.settle.Settles;
import leanladder.store.Store;
import leanladder.store.requests.FeatureRequest;
import leanladder.tell.PlainReason;

/** What people ask for that is off for them: asked through a client that speaks for them, answered here, and told back to them. */
public record RequestRoutes(Store store, Timeline timeline, Inquiry.Reader inquiries, ClientSecret secret, Post post)
        implements Room, Matters {
    private static final int MOST = 500;

    /** How many of a unit ask for the same. */
    public record AlikeUnit(String unit, int requests) {}

    /**
     * A request.
     *
     * @param value what is wanted, in words @param inWorkspace the name of the workspace in which it is wanted
     * @param words what the person says about it; can be empty
     * @param why it is not there for the person now; empty where the account or the setting is no more
     * @param alike who else asks for the same, by unit
     */
    public record RequestLine(
            long id,
            String account,
            String name,
            String unit,
            String setting,
            String title,
            Optional<String> app,
            @Shape("Value") JsonNode wanted,
            String value,
            Optional<String> workspace,
            Optional<String> inWorkspace,
            String words,
            Instant asked,
            FeatureRequest.RequestState state,
            Optional<Instant> answered,
            Optional<String> by,
            Optional<String> sentence,
            Optional<Long> change,
            String why,
            List<AlikeUnit> alike) {}

    /** Requests, those that are open first of all, the oldest first. */
    public record RequestList(List<RequestLine> requests) {}

    /** A request as the person sees it who made it. @param words what became of it */
    public record OwnRequest(
            long id, String setting, String title, Instant asked, FeatureRequest.RequestState state, String words) {}

    /** All requests of a person, the newest first. */
    public record OwnRequests(String account, List<OwnRequest> requests) {}

    /** Why something is not there for a person, in a sentence for that person. */
    public record Reason(String setting, String words) {}

    @Override
    public void routes(Api api) {
        api.get("/requests", this::list, RequestList.class);
        api.post("/requests/{id}/declines", this::decline, this::again, RequestList.class);
        api.get("/suite/accounts/{id}/reasons/{setting}", this::reason, Reason.class);
        api.get("/suite/accounts/{id}/requests", call -> own(call.path("id"), call), OwnRequests.class);
        api.post("/suite/accounts/{id}/requests", this::ask, this::asked, OwnRequests.class);
    }

    private Answer list(Call call) {
        Query query = call.query(Set.of("which"));
        boolean all = query.word("which", List.of("open", "all"))
                .filter("all"::equals)
                .isPresent();
        return Answer.of(new RequestList(
                lines(all ? store.requests().latest(MOST) : store.requests().open(Requests.MOST_OPEN))));
    }

    private List<RequestLine> lines(List<FeatureRequest> requests) {
        Inquiry inquiry = inquiries.of(Query.none());
        Map<String, Map<String, Integer>> units = new LinkedHashMap<>();
        for (FeatureRequest request : requests)
            if (request.state() == FeatureRequest.RequestState.OPEN)
                units.computeIfAbsent(request.setting(), s -> new TreeMap<>())
                        .merge(unit(inquiry, request.account()), 1, Integer::sum);
        return requests.stream().map(r -> line(inquiry, r, units)).toList();
    }

    private RequestLine line(Inquiry inquiry, FeatureRequest request, Map<String, Map<String, Integer>> units) {
        Optional<Account> account = inquiry.estate().account(request.account());
        Optional<Setting> setting = inquiry.estate().catalogue().setting(request.setting());
        String unit = unit(inquiry, request.account());
        Map<String, Integer> alike = new TreeMap<>(units.getOrDefault(request.setting(), Map.of()));
        if (request.state() == FeatureRequest.RequestState.OPEN)
            alike.computeIfPresent(unit, (u, n) -> n == 1 ? null : n - 1);
        return new RequestLine(
                request.id(),
                request.account(),
                account.map(Account::displayName).orElse(request.account()),
                unit,
                request.setting(),
                setting.map(Setting::title).orElse(request.setting()),
                setting.flatMap(inquiry::app),
                request.wanted(),
                setting.map(s -> words(inquiry, s, request.wanted())).orElse(""),
                request.workspace(),
                request.workspace().flatMap(inquiry.estate()::workspace).map(Workspace::name),
                request.words(),
                request.asked(),
                request.state(),
                request.answered(),
                request.by(),
                request.sentence(),
                request.change(),
                account.filter(Account::active)
                        .flatMap(a -> setting.map(s -> why(inquiry, a, s, request.workspace())))
                        .orElse(""),
                alike.entrySet().stream()
                        .map(e -> new AlikeUnit(e.getKey(), e.getValue()))
                        .toList());
    }

    private static String unit(Inquiry inquiry, String account) {
        return inquiry.estate()
                .account(account)
                .map(a -> inquiry.directory().tree().path(a.unit()).stream()
                        .skip(1)
                        .map(u -> u.name())
                        .collect(Collectors.joining(" / ")))
                .orElse("");
    }

    private static String words(Inquiry inquiry, Setting setting, JsonNode wanted) {
        Optional<Value> value = setting.type().read(wanted, defect -> {});
        return value.map(v -> inquiry.wording().value(setting, v)).orElse("");
    }

    private static String why(Inquiry inquiry, Account account, Setting setting, Optional<String> workspace) {
        Snapshot snapshot = inquiry.snapshot();
        Question question = new Question(
                inquiry.question().at(),
                workspace.filter(w -> snapshot.estate().workspace(w).isPresent()));
        return new PlainReason(inquiry.wording())
                .of(snapshot.moment(question).climber(account).climb(setting));
    }

    private Answer decline(Call call) throws IOException {
        long id = call.number("id", "request");
        Sent sent = call.sent();
        Optional<String> sentence = sent.text("sentence", Limits.NOTE).map(String::strip);
        if (sentence.filter(s -> !s.isEmpty()).isEmpty() && sent.defects().isEmpty())
            sent.defects().add("/sentence", "is missing: the person reads why");
        sent.refuseDefects();
        FeatureRequest request = request(id);
        if (request.state() != FeatureRequest.RequestState.OPEN)
            throw Problem.refused(
                    409, "Answered", "This request was " + request.state().word() + " meanwhile.");
        var asking = call.request();
        store.requests().decline(asking, id, asking.actor(), sentence.orElseThrow());
        Requests.write(store, post, timeline.present(), id, timeline.now());
        return again(id);
    }

    private Answer again(long id) {
        return Answer.of(new RequestList(lines(List.of(request(id)))));
    }

    private FeatureRequest request(long id) {
        return store.requests().find(id).orElseThrow(() -> Problem.unknown("There is no request \"" + id + "\"."));
    }

    private Answer reason(Call call) {
        secret.check(call);
        Inquiry inquiry = inquiries.of(call.query(Set.of("workspace")));
        Account account = inquiry.account(call.path("id"));
        Setting setting = inquiry.setting(call.path("setting"));
        return Answer.of(new Reason(
                setting.key(), why(inquiry, account, setting, inquiry.question().workspace())));
    }

    private Answer ask(Call call) throws IOException {
        secret.check(call);
        Sent sent = call.sent();
        Inquiry inquiry = inquiries.of(Query.none());
        Account account = inquiry.account(call.path("id"));
        Optional<String> key = sent.text("setting", Limits.NAME);
        Optional<String> workspace = sent.text("workspace", Limits.NAME);
        Optional<String> words = sent.text("words", Limits.NOTE);
        if (key.isEmpty() && sent.defects().isEmpty()) sent.defects().add("/setting", "is missing");
        Optional<Setting> setting = key.flatMap(inquiry.estate().catalogue()::setting);
        if (key.isPresent() && setting.isEmpty())
            sent.defects().add("/setting", "names \"" + key.get() + "\", which the catalogue does not have");
        workspace
                .filter(w -> inquiry.estate().workspace(w).isEmpty())
                .ifPresent(w -> sent.defects().add("/workspace", "names \"" + w + "\", which does not exist"));
        JsonNode wanted = sent.member("wanted").map(Place::node).orElse(Json.NODES.booleanNode(true));
        setting.ifPresent(s -> s.type().read(wanted, defect -> sent.defects().add("/wanted", defect)));
        sent.refuseDefects();
        FeatureRequest asking = new FeatureRequest(
                0,
                account.id(),
                setting.orElseThrow().key(),
                workspace,
                wanted,
                words.orElse(""),
                timeline.now(),
                FeatureRequest.RequestState.OPEN,
                Optional.empty(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty());
        if (Requests.isGranted(inquiry.snapshot(), timeline.now(), asking))
            throw Problem.refused(
                    409,
                    "There already",
                    setting.get().title()
                            + " is there for this person already; it may still be on its way to the page.");
        long id =
                store.requests().ask(call.request(), account.id(), asking.setting(), workspace, wanted, asking.words());
        return asked(id);
    }

    private Answer asked(long id) {
        FeatureRequest request = request(id);
        return Answer.created(own(request.account(), List.of(request)));
    }

    private Answer own(String account, Call call) {
        secret.check(call);
        call.query(Set.of());
        if (inquiries.of(Query.none()).estate().account(account).isEmpty())
            throw Problem.unknown("There is no account \"" + account + "\".");
        return Answer.of(own(account, store.requests().of(account, MOST)));
    }

    private OwnRequests own(String account, List<FeatureRequest> requests) {
        Inquiry inquiry = inquiries.of(Query.none());
        List<OwnRequest> own = new ArrayList<>();
        RequestWords words = new RequestWords(inquiry.wording(), timeline.now());
        for (FeatureRequest request : requests) {
            Optional<Setting> setting = inquiry.estate().catalogue().setting(request.setting());
            own.add(new OwnRequest(
                    request.id(),
                    request.setting(),
                    setting.map(Setting::title).orElse(request.setting()),
                    request.asked(),
                    request.state(),
                    words.of(request, setting.map(Settles::of).orElse(Settles.AT_ONCE))));
        }
        return new OwnRequests(account, own);
    }

    /** What people ask for, one matter for each feature. */
    @Override
    public List<Matter> of(Inquiry inquiry) {
        Map<String, List<FeatureRequest>> bySetting = new LinkedHashMap<>();
        for (FeatureRequest request : store.requests().open(Requests.MOST_OPEN))
            bySetting.computeIfAbsent(request.setting(), s -> new ArrayList<>()).add(request);
        List<Matter> matters = new ArrayList<>();
        bySetting.forEach((key, requests) -> {
            FeatureRequest first = requests.get(0);
            String name = inquiry.estate()
                    .account(first.account())
                    .map(Account::displayName)
                    .orElse(first.account());
            String others = requests.size() == 1
                    ? " asks"
                    : requests.size() == 2 ? " and one other ask" : " and " + (requests.size() - 1) + " others ask";
            matters.add(new Matter(
                    Matter.Topic.REQUEST,
                    "request:" + key + ":" + requests.get(requests.size() - 1).id(),
                    name + others + " for “"
                            + inquiry.estate()
                                    .catalogue()
                                    .setting(key)
                                    .map(Setting::title)
                                    .orElse(key) + "”.",
                    "/today/requests/" + first.id(),
                    Optional.empty()));
        });
        return matters;
    }
}
