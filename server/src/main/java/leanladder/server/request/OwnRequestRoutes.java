package leanladder.server.request;

import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.catalogue.Setting;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.estate.Account;
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
import leanladder.server.live.Timeline;
import leanladder.settle.Settles;
import leanladder.store.Store;
import leanladder.store.requests.FeatureRequest;

/** What a client asks that speaks for a person: why something is not there, to ask for it, and what became of that. */
public record OwnRequestRoutes(Store store, Timeline timeline, Inquiry.Reader inquiries, ClientSecret secret)
        implements Room {
    private static final int MOST = 500;

    /** A request as the person sees it who made it. @param words what became of it */
    public record OwnRequest(
            long id, String setting, String title, Instant asked, FeatureRequest.RequestState state, String words) {}

    /** All requests of a person, the newest first. */
    public record OwnRequests(String account, List<OwnRequest> requests) {}

    /** Why something is not there for a person, in a sentence for that person. */
    public record Reason(String setting, String words) {}

    @Override
    public void routes(Api api) {
        api.get("/suite/accounts/{id}/reasons/{setting}", this::reason, Reason.class);
        api.get("/suite/accounts/{id}/requests", call -> own(call.path("id"), call), OwnRequests.class);
        api.post("/suite/accounts/{id}/requests", this::ask, this::asked, OwnRequests.class);
    }

    private Answer reason(Call call) {
        secret.check(call);
        Inquiry inquiry = inquiries.of(call.query(Set.of("workspace")));
        Account account = inquiry.account(call.path("id"));
        Setting setting = inquiry.setting(call.path("setting"));
        return Answer.of(new Reason(
                setting.key(),
                Requests.why(inquiry, account, setting, inquiry.question().workspace())));
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
        FeatureRequest request = store.requests().find(id).orElseThrow();
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
}
