package leanladder.server.mail;

import jakarta.mail.MessagingException;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicBoolean;
import leanladder.estate.Account;
import leanladder.server.live.Timeline;
import leanladder.store.Store;
import leanladder.store.db.Request;
import leanladder.store.mail.MailTable;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Texts to people: kept when they are written, and handed over to a mail server by the one server that holds the clock, again and again, each time
 * after a longer pause, until it takes them. Without a mail server nothing is written at all.
 */
public final class Post implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(Post.class);
    private static final int AT_ONCE = 50;
    private static final Duration PAUSE = Duration.ofSeconds(30);
    private static final String ACTOR = "the post";

    private final Store store;
    private final Timeline timeline;
    private final Optional<MailServer> server;
    private final AtomicBoolean busy = new AtomicBoolean();
    private final ExecutorService thread = Executors.newSingleThreadExecutor(run -> {
        Thread made = new Thread(run, "post");
        made.setDaemon(true);
        return made;
    });

    /** @param server without which nothing is written */
    public Post(Store store, Timeline timeline, Optional<MailServer> server) {
        this.store = store;
        this.timeline = timeline;
        this.server = server;
    }

    /**
     * A text to somebody.
     *
     * @param key tells the occasion from all others: the same is written once, whoever notices it
     */
    public record Letter(String key, Account to, String subject, String text) {}

    /** Whether there is a mail server to hand anything over to. */
    public boolean hands() {
        return server.isPresent();
    }

    /** Writes to somebody, of our own accord. */
    public void write(String key, Account to, String subject, String text) {
        if (hands()) write(Request.by(ACTOR, timeline.now()), List.of(new Letter(key, to, subject, text)));
    }

    /** Writes to people, all or none; how many of these texts are new. Who has no mail address is passed over. */
    public long write(Request request, List<Letter> letters) {
        return store.mail()
                .put(
                        request,
                        letters.stream()
                                .filter(l -> l.to.userName().contains("@"))
                                .map(l -> new MailTable.Written(
                                        l.key, l.to.userName(), l.to.displayName(), l.subject, l.text))
                                .toList());
    }

    /** Hands over what waits, unless that is being done. */
    public void handOver() {
        if (server.isEmpty() || busy.getAndSet(true)) return;
        thread.execute(() -> {
            try {
                for (MailTable.Waiting mail : store.mail().due(timeline.now(), AT_ONCE)) handOver(mail, server.get());
            } catch (RuntimeException failed) {
                LOG.warn("What waits to be mailed could not be looked at; it is tried again", failed);
            } finally {
                busy.set(false);
            }
        });
    }

    private void handOver(MailTable.Waiting mail, MailServer to) {
        Instant now = timeline.now();
        Request request = Request.by(ACTOR, now);
        try {
            to.handOver(mail, now);
            store.mail().sent(request, mail.id());
        } catch (MessagingException refused) {
            LOG.warn("Mail {} was not taken by the mail server: {}", mail.id(), refused.getMessage());
            store.mail()
                    .failed(
                            request,
                            mail.id(),
                            MailServer.trouble(refused),
                            now.plus(PAUSE.multipliedBy(1L << mail.tries())));
        }
    }

    @Override
    public void close() {
        thread.shutdownNow();
    }
}
