package leanladder.server.preview;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.Optional;
import leanladder.catalogue.Setting;
import leanladder.change.preview.AskEdit;
import leanladder.estate.Account;
import leanladder.estate.Ring;
import leanladder.server.live.Snapshot;
import leanladder.server.live.Timeline;
import leanladder.server.mail.Post;

/** Writes to those whom a published change asks to join a preview, with the text that comes with the asking. */
public final class Invitations {
    private Invitations() {}

    /** Writes from now on. */
    public static void through(Post post, Timeline timeline) {
        timeline.whenStepped(step ->
                write(post, step.after(), step.change().number(), step.change().edits()));
    }

    private static void write(Post post, Snapshot snapshot, long change, JsonNode edits) {
        for (JsonNode edit : edits) {
            if (edit.path("edits").isArray()) write(post, snapshot, change, edit.path("edits"));
            if (!edit.path("kind").asText().equals(AskEdit.ASK.name())) continue;
            Optional<Account> account =
                    snapshot.estate().account(edit.path("account").asText()).filter(Account::active);
            account.ifPresent(to -> {
                String what = name(snapshot, edit);
                String text = edit.path("text").asText("");
                post.write(
                        "asked:" + change + ":" + to.id() + ":" + what,
                        to,
                        "Would you try “" + what + "”?",
                        (text.isEmpty() ? "You are asked to try “" + what + "” before others do." : text)
                                + "\n\nA preview is unfinished; it may change, fail, or be taken back. You join, or say no,"
                                + " under “What is coming”, and can leave at any time.\n");
            });
        }
    }

    private static String name(Snapshot snapshot, JsonNode edit) {
        if (edit.has("ring"))
            return snapshot.estate().rings().stream()
                    .filter(r -> r.id().equals(edit.path("ring").asText()))
                    .map(Ring::name)
                    .findFirst()
                    .orElse(edit.path("ring").asText());
        String release = edit.path("release").asText();
        return snapshot.estate()
                .catalogue()
                .setting(release)
                .map(Setting::title)
                .orElse(release);
    }
}
