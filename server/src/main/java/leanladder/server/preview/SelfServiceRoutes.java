package leanladder.server.preview;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import leanladder.edit.EditKind;
import leanladder.edit.preview.DeclinePreview;
import leanladder.edit.preview.GiveConsent;
import leanladder.edit.preview.WithdrawConsent;
import leanladder.estate.Account;
import leanladder.json.Json;
import leanladder.server.access.ClientSecret;
import leanladder.server.http.JsonRequestBody;
import leanladder.server.http.Limits;
import leanladder.server.http.ProblemException;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.state.Publisher;
import leanladder.server.state.Timeline;
import leanladder.store.Store;
import leanladder.workingcopy.EntityType;

/**
 * A person's own word on a preview, through a client that speaks for the person: consent, given and taken back, a no to being asked,
 * and what the person found. It is published at once.
 */
public record SelfServiceRoutes(Store store, Timeline timeline, SelfServiceBatcher words, ClientSecret secret)
        implements RouteGroup {
    /** Words on a timeline, published into a store. */
    public SelfServiceRoutes(Store store, Timeline timeline, Publisher publisher, ClientSecret secret) {
        this(store, timeline, new SelfServiceBatcher(timeline, publisher), secret);
    }

    /** What became of it. @param change the number under which it stands in the logbook */
    public record SelfServiceAnswer(long change, Instant at, String words) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.post(
                "/accounts/{id}/consents",
                requestContext -> word(requestContext, GiveConsent.KIND),
                this::again,
                SelfServiceAnswer.class);
        routeRegistry.post(
                "/accounts/{id}/withdrawals",
                requestContext -> word(requestContext, WithdrawConsent.KIND),
                this::again,
                SelfServiceAnswer.class);
        routeRegistry.post(
                "/accounts/{id}/refusals",
                requestContext -> word(requestContext, DeclinePreview.KIND),
                this::again,
                SelfServiceAnswer.class);
        routeRegistry.post("/accounts/{id}/feedback", this::feedback, this::again, SelfServiceAnswer.class);
    }

    private Response again(long number) {
        var change = store.journal().change(number).orElseThrow();
        List<String> words = new ArrayList<>();
        change.words().forEach(w -> words.add(w.asText()));
        return Response.created(new SelfServiceAnswer(number, change.at(), String.join("; ", words)));
    }

    private Response word(RequestContext requestContext, EditKind kind) throws IOException {
        secret.check(requestContext);
        JsonRequestBody jsonRequestBody = requestContext.jsonRequestBody();
        Account account = account(requestContext);
        ObjectNode edit = Json.NODES.objectNode().put("kind", kind.name()).put("account", account.id());
        for (String member : List.of("ring", "release", "until", "terms"))
            jsonRequestBody.root().member(member).ifPresent(p -> edit.set(member, p.node()));
        edit.put("at", timeline.now().toString());
        jsonRequestBody.refuseDefects();
        return publish(requestContext, account, edit);
    }

    private Response feedback(RequestContext requestContext) throws IOException {
        secret.check(requestContext);
        JsonRequestBody jsonRequestBody = requestContext.jsonRequestBody();
        Account account = account(requestContext);
        jsonRequestBody.text("text", Limits.NOTE);
        jsonRequestBody.text("device", Limits.NAME);
        ObjectNode edit = Json.NODES.objectNode().put("kind", "add-" + EntityType.FEEDBACK.noun());
        ObjectNode feedback = edit.putObject(EntityType.FEEDBACK.noun());
        feedback.put("account", account.id()).put("at", timeline.now().toString());
        for (String member : List.of("release", "verdict", "text", "device"))
            jsonRequestBody.root().member(member).ifPresent(p -> feedback.set(member, p.node()));
        jsonRequestBody.refuseDefects();
        return publish(requestContext, account, edit);
    }

    private Account account(RequestContext requestContext) {
        String id = requestContext.path("id");
        return timeline.present()
                .estate()
                .account(id)
                .orElseThrow(() -> ProblemException.unknown("There is no account \"" + id + "\"."));
    }

    private Response publish(RequestContext requestContext, Account account, ObjectNode edit) {
        SelfServiceBatcher.SelfServiceResult selfServiceResult =
                words.publish(requestContext.writeRequest(), edit, account.displayName());
        return Response.created(new SelfServiceAnswer(
                selfServiceResult.change().number(), selfServiceResult.change().at(), selfServiceResult.words()));
    }
}
