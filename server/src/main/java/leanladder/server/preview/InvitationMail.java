package leanladder.server.preview;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.ArrayList;
import java.util.List;
import leanladder.catalogue.Setting;
import leanladder.edit.preview.AskToJoin;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.estate.Ring;
import leanladder.server.mail.Mailer;
import leanladder.store.mail.MailTable;

/** The mail to those whom a change asks to join a preview, with the text that comes with the invitation. */
public final class InvitationMail {
    private InvitationMail() {}

    /**
     * The mail that a change brings.
     *
     * @param after the estate after the change
     * @param number of the change
     */
    public static List<MailTable.NewMail> compute(Estate after, long number, JsonNode edits) {
        List<MailTable.NewMail> mail = new ArrayList<>();
        for (JsonNode edit : edits) {
            if (edit.path("edits").isArray()) mail.addAll(compute(after, number, edit.path("edits")));
            if (!edit.path("kind").asText().equals(AskToJoin.KIND.name())) continue;
            after.account(edit.path("account").asText())
                    .filter(Account::active)
                    .flatMap(to -> Mailer.recorded(invitation(after, number, edit, to)))
                    .ifPresent(mail::add);
        }
        return mail;
    }

    private static Mailer.MailMessage invitation(Estate after, long number, JsonNode edit, Account to) {
        String what = name(after, edit);
        String text = edit.path("text").asText("");
        return new Mailer.MailMessage(
                "asked:" + number + ":" + to.id() + ":" + what,
                to,
                "Would you try “" + what + "”?",
                (text.isEmpty() ? "You are asked to try “" + what + "” before others do." : text)
                        + "\n\nA preview is unfinished; it may change, fail, or be taken back. You join, or say no,"
                        + " under “What is coming”, and can leave at any time.\n");
    }

    private static String name(Estate after, JsonNode edit) {
        if (edit.has("ring"))
            return after.ring(edit.path("ring").asText())
                    .map(Ring::name)
                    .orElse(edit.path("ring").asText());
        String release = edit.path("release").asText();
        return after.catalogue().setting(release).map(Setting::title).orElse(release);
    }
}
