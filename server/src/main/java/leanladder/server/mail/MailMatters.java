package leanladder.server.mail;

import java.time.Duration;
import java.util.List;
import java.util.Optional;
import leanladder.server.draft.Inquiry;
import leanladder.server.today.Matter;
import leanladder.server.today.Matters;
import leanladder.store.Store;

/** Texts to people that the mail server does not take, by what it says. */
public record MailMatters(Store store) implements Matters {
    private static final Duration TOLD = Duration.ofDays(7);

    @Override
    public List<Matter> of(Inquiry inquiry) {
        return store.mail().stuck(inquiry.question().at().minus(TOLD)).stream()
                .map(stuck -> new Matter(
                        Matter.Topic.CHECK,
                        "mail:" + stuck.since() + ":" + stuck.ended(),
                        (stuck.texts() == 1
                                        ? "A mail to somebody was"
                                        : String.format("%,d mails to people were", stuck.texts()))
                                + " not taken by the mail server"
                                + (stuck.ended() ? " in many tries. " : " so far. ")
                                + stuck.trouble().replaceAll("[.\\s]+$", "") + ".",
                        "",
                        Optional.empty()))
                .toList();
    }
}
