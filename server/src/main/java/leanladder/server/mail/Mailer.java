package leanladder.server.mail;

import jakarta.mail.MessagingException;
import java.time.Duration;
import java.time.Instant;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import leanladder.estate.Account;
import leanladder.estate.MailAddress;
import leanladder.server.state.Timeline;
import leanladder.store.Store;
import leanladder.store.db.WriteRequest;
import leanladder.store.mail.MailTable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Texts to people: kept when they are written, and handed over to a mail server by the leader, again and again, each time
 * after a longer pause, until it takes them. Without a mail server nothing is written at all.
 */
public final class Mailer {
    private static final Logger LOG = LoggerFactory.getLogger(Mailer.class);
    private static final int AT_ONCE = 50;
    private static final Duration PAUSE = Duration.ofSeconds(30);
    private static final String ACTOR = "the post";

    private final Store store;
    private final Timeline timeline;
    private final Optional<SmtpClient> server;
    /** What was handed over and is not noted in the database yet. */
    private final Set<Long> sent = new HashSet<>();

    /** @param server without which nothing is written */
    public Mailer(Store store, Timeline timeline, Optional<SmtpClient> server) {
        this.store = store;
        this.timeline = timeline;
        this.server = server;
    }

    /**
     * A text to somebody.
     *
     * @param key tells the occasion from all others: the same is written once, whoever notices it
     */
    public record MailMessage(String key, Account to, String subject, String text) {}

    /** Whether there is a mail server to hand anything over to. */
    public boolean hands() {
        return server.isPresent();
    }

    /** Writes to somebody, of our own accord. */
    public void write(String key, Account to, String subject, String text) {
        if (hands()) write(WriteRequest.by(ACTOR, timeline.now()), List.of(new MailMessage(key, to, subject, text)));
    }

    /** Writes to people, all or none; how many of these texts are new. Who has no mail address is passed over. */
    public long write(WriteRequest writeRequest, List<MailMessage> letters) {
        return store.mail()
                .put(
                        writeRequest,
                        letters.stream().flatMap(l -> recorded(l).stream()).toList());
    }

    /** A text as it is kept until it is handed over; empty for who has no mail address. */
    public static Optional<MailTable.NewMail> recorded(MailMessage mailMessage) {
        return Optional.of(mailMessage)
                .filter(l -> l.to.userName().contains("@"))
                .map(l -> new MailTable.NewMail(l.key, l.to.userName(), l.to.displayName(), l.subject, l.text));
    }

    /**
     * Hands over what waits. Each text is claimed in the database before it is sent, so that a database that takes no changes has nothing
     * sent. What was sent and could not be noted is noted first, and never sent again by this server.
     */
    public void handOver() {
        if (server.isEmpty()) return;
        noteSent();
        for (MailTable.PendingMail mail : store.mail().due(timeline.now(), AT_ONCE)) handOver(mail, server.get());
    }

    private synchronized void noteSent() {
        if (sent.isEmpty()) return;
        store.mail().sent(WriteRequest.by(ACTOR, timeline.now()), sent);
        sent.clear();
    }

    private void handOver(MailTable.PendingMail mail, SmtpClient to) {
        Instant now = timeline.now();
        if (!MailAddress.isValid(mail.address())) {
            store.mail()
                    .giveUp(
                            WriteRequest.by(ACTOR, now),
                            mail.id(),
                            "The address of " + mail.name() + ", \"" + mail.address() + "\", is not a mail address");
            return;
        }
        store.mail().claim(WriteRequest.by(ACTOR, now), mail.id(), now.plus(PAUSE.multipliedBy(1L << mail.tries())));
        try {
            to.handOver(mail, now);
        } catch (MessagingException refused) {
            LOG.warn("The mail server did not take mail {}: {}", mail.id(), refused.getMessage());
            store.mail().failed(WriteRequest.by(ACTOR, now), mail.id(), SmtpClient.trouble(refused));
            return;
        }
        synchronized (this) {
            sent.add(mail.id());
        }
        noteSent();
    }
}
