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
import leanladder.estate.Account;
import leanladder.estate.Workspace;
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
import leanladder.server.live.Timeline;
import leanladder.server.mail.Post;
import leanladder.server.today.Matter;
import leanladder.server.today.Matters;
import leanladder.store.Store;
import leanladder.store.requests.FeatureRequest;

/** What people ask for that is off for them, with the answer worked out; granted by whatever edit brings it, or declined here. */
public record RequestRoutes(Store store, Timeline timeline, Inquiry.Reader inquiries, Post post)
        implements Room, Matters {
    private static final int SHOWN = 100;
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

    /** Requests: those that are open, the oldest first, or a page of all of them, the newest first. @param next where the next page begins */
    public record RequestList(List<RequestLine> requests, Optional<Long> next) {}

    /** A request, and all that are open for the same setting, the oldest first. */
    public record RequestPage(RequestLine request, List<RequestLine> alike) {}

    @Override
    public void routes(Api api) {
        api.get("/requests", this::list, RequestList.class);
        api.get("/requests/{id}", this::one, RequestPage.class);
        api.post("/requests/{id}/declines", this::decline, this::again, RequestList.class);
    }

    private Answer list(Call call) {
        Query query = call.query(Set.of("which", "before", "limit"));
        boolean all = query.word("which", List.of("open", "all"))
                .filter("all"::equals)
                .isPresent();
        if (!all) return Answer.of(new RequestList(lines(store.requests().open(Requests.MOST_OPEN)), Optional.empty()));
        int limit = query.number("limit", SHOWN, MOST);
        List<FeatureRequest> page =
                store.requests().before(query.number("before", Integer.MAX_VALUE, Integer.MAX_VALUE), limit);
        return Answer.of(new RequestList(
                lines(page),
                page.size() < limit
                        ? Optional.empty()
                        : Optional.of(page.get(limit - 1).id())));
    }

    private Answer one(Call call) {
        FeatureRequest request = request(call.number("id", "request"));
        List<FeatureRequest> alike = new ArrayList<>(store.requests().open(Requests.MOST_OPEN));
        alike.removeIf(r -> !r.setting().equals(request.setting()));
        List<RequestLine> lines = lines(alike);
        return Answer.of(new RequestPage(
                lines.stream()
                        .filter(line -> line.id() == request.id())
                        .findFirst()
                        .orElseGet(() -> lines(List.of(request)).get(0)),
                lines));
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
                        .flatMap(a -> setting.map(s -> Requests.why(inquiry, a, s, request.workspace())))
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
        return Answer.of(new RequestList(lines(List.of(request(id))), Optional.empty()));
    }

    private FeatureRequest request(long id) {
        return store.requests().find(id).orElseThrow(() -> Problem.unknown("There is no request \"" + id + "\"."));
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
