package leanladder.suite;

import com.fasterxml.jackson.databind.JsonNode;
import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.io.IOException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicLong;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * What Lean Ladder delivers for the accounts that somebody looks at. It is fetched when an account is first asked for, and again when the
 * stream of changes names it: then with the tag of what is known, so that it costs little where nothing changed. While the stream is cut, it
 * is fetched each time. Since when each value is in force is asked for as well, for that decides when it shows.
 */
final class SettingsClient implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(SettingsClient.class);
    private static final int HELD = 5000;
    private static final int MOST_NAMED = 200_000;
    private static final Duration SHORTLY = Duration.ofSeconds(5);
    private static final Duration CATALOGUE = Duration.ofMinutes(5);

    private final LeanLadderClient leanLadderClient;
    private final Clock clock;
    private final Cache<SettingsSubject, CachedSettings> held =
            Caffeine.newBuilder().maximumSize(HELD).build();
    private final Cache<Ahead, Map<String, List<PropagationSimulator.Entry>>> ahead =
            Caffeine.newBuilder().maximumSize(HELD).expireAfterWrite(SHORTLY).build();
    private final Cache<String, Catalogue> catalogue =
            Caffeine.newBuilder().expireAfterWrite(CATALOGUE).build();
    private final AtomicLong wakes = new AtomicLong();
    private final Map<String, Long> woken = new ConcurrentHashMap<>();
    private volatile long everybodyWoken;
    private volatile boolean listening;
    private volatile boolean closed;
    private final Thread listener = new Thread(this::listen, "deliveries");

    private record SettingsSubject(String account, Optional<String> workspace) {}

    private record Ahead(SettingsSubject whose, Instant since, Instant until) {}

    /** @param wake how often somebody had been woken when it was fetched */
    private record CachedSettings(
            Optional<String> tag, Instant since, long wake, Map<String, List<PropagationSimulator.Entry>> entries) {}

    SettingsClient(LeanLadderClient leanLadderClient, Clock clock) {
        this.leanLadderClient = leanLadderClient;
        this.clock = clock;
        listener.setDaemon(true);
        listener.start();
    }

    Catalogue catalogue() {
        return catalogue.get("", k -> leanLadderClient.catalogue());
    }

    /**
     * What is delivered for an account, setting by setting, each with its entries, the oldest first.
     *
     * @param since from when on it has to be known @param until until when; later than now for what time will bring
     * @throws HttpStatusException when there is no such account, or it is inactive
     */
    Map<String, List<PropagationSimulator.Entry>> entries(
            String account, Optional<String> workspace, Instant since, Instant until) {
        SettingsSubject settingsSubject = new SettingsSubject(account, workspace);
        if (until.isAfter(clock.instant())) {
            // A page whose clock is ahead asks for a little later each time; the same is told for all of a minute.
            Instant later = until.truncatedTo(ChronoUnit.MINUTES).plus(1, ChronoUnit.MINUTES);
            Ahead key = new Ahead(settingsSubject, since, later);
            return ahead.get(key, k -> fetched(settingsSubject, since, Optional.of(later)));
        }
        CachedSettings known = held.getIfPresent(settingsSubject);
        boolean covers = known != null && !known.since.isAfter(since);
        if (covers && listening && known.wake >= wake(account)) return known.entries;
        long wake = wakes.get();
        LeanLadderClient.Answer answer =
                leanLadderClient.settings(account, workspace, covers ? known.tag : Optional.empty());
        if (answer.status() == 304) {
            held.put(settingsSubject, new CachedSettings(known.tag, known.since, wake, known.entries));
            return known.entries;
        }
        if (answer.status() != 200) throw HttpStatusException.as(answer);
        // Up to whatever is now where it is asked: what was published since stands in the tag already, and would not be
        // fetched again.
        Map<String, List<PropagationSimulator.Entry>> entries = fetched(settingsSubject, since, Optional.empty());
        held.put(settingsSubject, new CachedSettings(answer.tag(), since, wake, entries));
        return entries;
    }

    private long wake(String account) {
        return Math.max(everybodyWoken, woken.getOrDefault(account, 0L));
    }

    private Map<String, List<PropagationSimulator.Entry>> fetched(
            SettingsSubject settingsSubject, Instant since, Optional<Instant> until) {
        LeanLadderClient.Answer answer =
                leanLadderClient.history(settingsSubject.account, since, until, settingsSubject.workspace);
        if (answer.status() != 200) throw HttpStatusException.as(answer);
        Map<String, List<PropagationSimulator.Entry>> entries = new LinkedHashMap<>();
        for (JsonNode turn : answer.body().path("turns")) {
            Instant at = Instant.parse(turn.path("at").asText());
            for (JsonNode one : turn.path("settings"))
                entries.computeIfAbsent(one.path("key").asText(), k -> new ArrayList<>())
                        .add(new PropagationSimulator.Entry(
                                at, Json.MAPPER.convertValue(one, DeliveredSettings.class)));
        }
        if (entries.isEmpty())
            throw new HttpStatusException(404, "This account is not active, so that it has no page in the suite.");
        return entries;
    }

    private void wake(LeanLadderClient.SettingsChanged settingsChanged) {
        long number = wakes.incrementAndGet();
        ahead.invalidateAll();
        catalogue.invalidateAll();
        if (settingsChanged.all() || woken.size() > MOST_NAMED) {
            woken.clear();
            everybodyWoken = number;
        } else settingsChanged.accounts().forEach(account -> woken.put(account, number));
    }

    private void listen() {
        String[] last = {""};
        while (!closed) {
            try {
                leanLadderClient.listen(last[0], (id, settingsChanged) -> {
                    last[0] = id;
                    wake(settingsChanged);
                    listening = true;
                });
            } catch (IOException e) {
                LOG.debug("The stream of changes is cut: {}", e.getMessage());
            }
            listening = false;
            try {
                TimeUnit.SECONDS.sleep(1);
            } catch (InterruptedException e) {
                return;
            }
        }
    }

    @Override
    public void close() {
        closed = true;
        listener.interrupt();
    }
}
