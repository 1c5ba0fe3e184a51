package leanladder.server.preview;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import leanladder.change.overlay.EditKind;
import leanladder.change.overlay.PartType;
import leanladder.change.preview.AskEdit;
import leanladder.change.preview.ConsentEdit;
import leanladder.document.Json;
import leanladder.estate.Account;
import leanladder.server.access.ClientSecret;
import leanladder.server.http.Answer;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Limits;
import leanladder.server.http.Problem;
import leanladder.server.http.Room;
import leanladder.server.http.Sent;
import leanladder.server.live.Publisher;
import leanladder.server.live.Timeline;
import leanladder.store.Store;

/**
 * A person's own word on a preview, through a client that speaks for the person: consent, given and taken back, a no to being asked,
 * and what the person found. It is published at once.
 */
public record OwnWordRoutes(Store store, Timeline timeline, OwnWords words, ClientSecret secret) implements Room {
    /** Words on a timeline, published into a store. */
    public OwnWordRoutes(Store store, Timeline timeline, Publisher publisher, ClientSecret secret) {
        this(store, timeline, new OwnWords(timeline, publisher), secret);
    }

    /** What became of it. @param change the number under which it stands in the logbook */
    public record Word(long change, Instant at, String words) {}

    @Override
    public void routes(Api api) {
        api.post("/accounts/{id}/consents", call -> word(call, ConsentEdit.GIVE), this::again, Word.class);
        api.post("/accounts/{id}/withdrawals", call -> word(call, ConsentEdit.WITHDRAW), this::again, Word.class);
        api.post("/accounts/{id}/refusals", call -> word(call, AskEdit.DECLINE), this::again, Word.class);
        api.post("/accounts/{id}/feedback", this::feedback, this::again, Word.class);
    }

    private Answer again(long number) {
        var change = store.journal().change(number).orElseThrow();
        List<String> words = new ArrayList<>();
        change.words().forEach(w -> words.add(w.asText()));
        return Answer.created(new Word(number, change.at(), String.join("; ", words)));
    }

    private Answer word(Call call, EditKind kind) throws IOException {
        secret.check(call);
        Sent sent = call.sent();
        Account account = account(call);
        ObjectNode edit = Json.NODES.objectNode().put("kind", kind.name()).put("account", account.id());
        for (String member : List.of("ring", "release", "until"))
            sent.root().member(member).ifPresent(p -> edit.set(member, p.node()));
        edit.put("at", timeline.now().toString());
        sent.refuseDefects();
        return publish(call, account, edit);
    }

    private Answer feedback(Call call) throws IOException {
        secret.check(call);
        Sent sent = call.sent();
        Account account = account(call);
        sent.text("text", Limits.NOTE);
        sent.text("device", Limits.NAME);
        ObjectNode edit = Json.NODES.objectNode().put("kind", "add-" + PartType.FEEDBACK.noun());
        ObjectNode feedback = edit.putObject(PartType.FEEDBACK.noun());
        feedback.put("account", account.id()).put("at", timeline.now().toString());
        for (String member : List.of("release", "verdict", "text", "device"))
            sent.root().member(member).ifPresent(p -> feedback.set(member, p.node()));
        sent.refuseDefects();
        return publish(call, account, edit);
    }

    private Account account(Call call) {
        String id = call.path("id");
        return timeline.present()
                .estate()
                .account(id)
                .orElseThrow(() -> Problem.unknown("There is no account \"" + id + "\"."));
    }

    private Answer publish(Call call, Account account, ObjectNode edit) {
        OwnWords.Done done = words.publish(call.request(), edit, account.displayName());
        return Answer.created(new Word(done.change().number(), done.change().at(), done.words()));
    }
}
