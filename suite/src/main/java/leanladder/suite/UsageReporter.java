package leanladder.suite;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Clock;
import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Reports who uses what, as a suite would: once at the start for the last thirty days, then every hour for the day. Usage is made up:
 * people use only what is open to them, use some settings more than others, and less on Sundays. It depends on account, setting and day alone, so
 * a report that is sent twice adds nothing.
 */
final class UsageReporter implements AutoCloseable {
    private static final Logger LOG = LoggerFactory.getLogger(UsageReporter.class);
    private static final int DAYS = 30;
    private static final int MOST_ACCOUNTS = 1000;
    private static final double IDLE_ACCOUNTS = 0.08;
    private static final double IDLE_SETTINGS = 0.2;
    private static final double SUNDAY = 0.4;
    private static final int MOST_ITEMS = 1500;
    private static final List<String> LISTS = List.of("people", "rooms", "guests", "services");

    /** Settings by which items are shared outside the company. */
    private static final List<String> SHARING = List.of("files.share", "pages.share", "reports.share");

    private final LeanLadderClient leanLadderClient;
    private final Clock clock;
    private final ScheduledExecutorService thread = Executors.newSingleThreadScheduledExecutor(work -> {
        Thread made = new Thread(work, "usage");
        made.setDaemon(true);
        return made;
    });

    UsageReporter(LeanLadderClient leanLadderClient, Clock clock) {
        this.leanLadderClient = leanLadderClient;
        this.clock = clock;
    }

    void start() {
        thread.schedule(() -> report(DAYS), 0, TimeUnit.SECONDS);
        thread.scheduleWithFixedDelay(() -> report(1), 1, 1, TimeUnit.HOURS);
    }

    @Override
    public void close() {
        thread.shutdownNow();
    }

    /** Reports the last so many days, today included. A report that fails is sent again with the next. */
    void report(int days) {
        try {
            Map<String, Set<String>> open = openSettings();
            if (open.isEmpty()) return;
            Set<String> settings = leanLadderClient.catalogue().settings().keySet();
            LocalDate today = LocalDate.now(clock.withZone(ZoneOffset.UTC));
            for (int back = days - 1; back >= 0; back--) {
                LocalDate day = today.minusDays(back);
                LeanLadderClient.Answer answer = leanLadderClient.post(
                        "/suite/usage", body(day, open, settings), "usage-" + day + "-" + clock.millis());
                if (answer.status() >= 300) LOG.warn("The usage of {} was refused: {}", day, answer.body());
            }
        } catch (LeanLadderClient.UnreachableException later) {
            LOG.info("The usage is not reported now: {}", later.getMessage());
        }
    }

    /** For each account the switches that are open to it; empty where there are too many to ask one by one. */
    private Map<String, Set<String>> openSettings() {
        List<String> accounts = new ArrayList<>();
        for (String list : LISTS) {
            JsonNode found = leanLadderClient
                    .get("/directory/" + list + "?active=true&count=" + MOST_ACCOUNTS, Optional.empty())
                    .body();
            // Accounts that a report leaves out would seem to use nothing.
            if (found.path("total").asInt() > MOST_ACCOUNTS) return Map.of();
            found.path("rows").forEach(row -> accounts.add(row.path("id").asText()));
        }
        Map<String, Set<String>> open = new LinkedHashMap<>();
        for (String account : accounts)
            if (RolloutFraction.compute(account, "uses nothing") >= IDLE_ACCOUNTS)
                open.put(account, openSettings(account));
        return open;
    }

    private Set<String> openSettings(String account) {
        Set<String> settings = new LinkedHashSet<>();
        for (JsonNode one : leanLadderClient
                .settings(account, Optional.empty(), Optional.empty())
                .body()
                .path("settings"))
            if (one.path("shown").asText().equals("there") && one.path("value").asBoolean(false))
                settings.add(one.path("key").asText());
        return settings;
    }

    static ObjectNode body(LocalDate day, Map<String, Set<String>> open, Set<String> settings) {
        Map<String, List<String>> uses = new LinkedHashMap<>();
        open.forEach((account, there) -> there.forEach(setting -> {
            if (uses(account, setting, day))
                uses.computeIfAbsent(setting, s -> new ArrayList<>()).add(account);
        }));
        ObjectNode body = Json.MAPPER.createObjectNode().put("day", day.toString());
        ArrayNode written = body.putArray("uses");
        uses.forEach((setting, accounts) -> {
            ArrayNode ids = written.addObject().put("setting", setting).putArray("accounts");
            accounts.forEach(ids::add);
        });
        ArrayNode items = body.putArray("items");
        for (String setting : SHARING)
            if (settings.contains(setting))
                items.addObject().put("setting", setting).put("items", (long)
                        (RolloutFraction.compute(setting, "items") * MOST_ITEMS));
        return body;
    }

    /** Whether an account uses a setting on a day. */
    static boolean uses(String account, String setting, LocalDate day) {
        double liked = RolloutFraction.compute(setting, "liked");
        if (liked < IDLE_SETTINGS) return false;
        double habit = RolloutFraction.compute(account, setting);
        double chance = liked * habit * habit * (day.getDayOfWeek() == DayOfWeek.SUNDAY ? SUNDAY : 1);
        return RolloutFraction.compute(account + setting, day.toString()) < chance;
    }
}
