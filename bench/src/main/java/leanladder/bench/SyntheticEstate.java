package leanladder.bench;

import com.fasterxml.jackson.core.JsonGenerator;
import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.io.PipedInputStream;
import java.io.PipedOutputStream;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Collections;
import java.util.List;
import java.util.Random;
import java.util.function.Consumer;
import leanladder.estate.read.EntityRecord;
import leanladder.estate.read.EstateReader;
import leanladder.estate.read.InvalidEstateException;
import leanladder.json.Json;

/**
 * Estates of any size from a fixed seed, written as estate files. 2,000 settings, 500 policies of 5 to 35 statements for 1 to 3
 * targets (a third of them with an exception), 5,000 groups of 5 to a quarter of all accounts (log-uniform), 2,000 units.
 *
 * @param accounts how many accounts
 * @param full whether a tenth of the statements are locked and a tenth cap, a third of the settings have needs, and there are 40
 *     plans, 12 rings and 200 releases, with the consents of a third; otherwise there is nothing but unlocked sets
 * @param settings how many settings, {@value #SETTINGS} but for searching
 */
record SyntheticEstate(int accounts, boolean full, int settings) {
    private static final long SEED = 20261123;
    static final int SETTINGS = 2000;
    static final int POLICIES = 500;
    static final int GROUPS = 5000;
    static final int UNITS = 2000;
    private static final int PLANS = 40;
    private static final int RELEASES = 201;
    private static final int PIPE = 1 << 20;
    private static final List<String> RINGS = List.of(
            "inner",
            "second",
            "third",
            "fourth",
            "fifth",
            "sixth",
            "seventh",
            "eighth",
            "ninth",
            "tenth",
            "eleventh",
            "everyone");
    private static final List<String> LEVELS = List.of("own", "firms", "address", "code", "anyone");
    private static final String[] GIVEN = {
        "Agnete", "Aksel", "Demelza", "Fintan", "Ines", "Joost", "Mirela", "Oskar", "Tobin", "Yara"
    };
    private static final String[] FAMILY = {
        "Amaro", "Brandal", "Estrela", "Inkster", "Lamego", "Osk", "Skarre", "Tregear", "Uldal", "Velho"
    };

    private static final String[] VERBS = {
        "Allow",
        "Announce",
        "Ask for",
        "Begin",
        "Delete",
        "Edit",
        "End",
        "Export",
        "Forward",
        "Hide",
        "Invite",
        "Keep",
        "Mute",
        "Print",
        "Record",
        "Save",
        "Send",
        "Share",
        "Show",
        "Translate"
    };
    private static final String[] NOUNS = {
        "addresses",
        "answers",
        "calendars",
        "calls",
        "captions",
        "chats",
        "comments",
        "contacts",
        "documents",
        "drawings",
        "files",
        "forms",
        "greetings",
        "guests",
        "links",
        "lists",
        "meetings",
        "messages",
        "notes",
        "pages",
        "pictures",
        "polls",
        "receipts",
        "reports",
        "rooms"
    };
    private static final String[] PLACES = {
        "at night", "in the browser", "on the phone", "outside the firm", "with visitors"
    };

    SyntheticEstate(int accounts, boolean full) {
        this(accounts, full, SETTINGS);
    }

    /** The title of a setting; no two of the first 2,500 are alike. */
    static String title(int setting) {
        return VERBS[setting % VERBS.length] + " "
                + NOUNS[setting / VERBS.length % NOUNS.length] + " "
                + PLACES[setting / (VERBS.length * NOUNS.length) % PLACES.length];
    }

    /** Reads the estate as it is written, without a file between. */
    EstateReader.Result read(Consumer<EntityRecord> parts) throws IOException, InvalidEstateException {
        try (InputStream in = stream()) {
            return EstateReader.read(in, parts);
        }
    }

    /** The estate file as a stream. */
    InputStream stream() throws IOException {
        PipedInputStream in = new PipedInputStream(PIPE);
        PipedOutputStream out = new PipedOutputStream(in);
        Thread writer = new Thread(() -> {
            try (OutputStream to = new java.io.BufferedOutputStream(out, PIPE)) {
                write(to);
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        });
        writer.setDaemon(true);
        writer.start();
        return new BufferedInputStream(in, PIPE);
    }

    void write(OutputStream to) throws IOException {
        Random random = new Random(SEED + accounts * 2L + (full ? 1 : 0));
        try (JsonGenerator out = Json.MAPPER.getFactory().createGenerator(to)) {
            out.writeStartObject();
            out.writeStringField("format", "lean-ladder-estate/1");
            out.writeObjectFieldStart("organisation");
            out.writeStringField("name", "Skerrymore Ferries");
            out.writeEndObject();
            units(out, random);
            accounts(out, random);
            groups(out, random);
            catalogue(out, random);
            policies(out, random);
            if (full) licences(out, random);
            out.writeEndObject();
        }
    }

    private static void units(JsonGenerator out, Random random) throws IOException {
        out.writeArrayFieldStart("units");
        for (int u = 0; u < UNITS; u++) {
            out.writeStartObject();
            out.writeStringField("id", "u" + u);
            out.writeStringField("name", "Unit " + u);
            if (u > 0) out.writeStringField("parent", "u" + random.nextInt(Math.max(1, u / 4 + 1)));
            out.writeEndObject();
        }
        out.writeEndArray();
    }

    private void accounts(JsonGenerator out, Random random) throws IOException {
        out.writeArrayFieldStart("accounts");
        for (int a = 0; a < accounts; a++) {
            out.writeStartObject();
            out.writeStringField("id", "a" + a);
            String given = GIVEN[random.nextInt(GIVEN.length)];
            String family = FAMILY[random.nextInt(FAMILY.length)];
            out.writeStringField("userName", given + "." + family + a + "@skerrymore.example");
            out.writeStringField("displayName", given + " " + family);
            int kind = random.nextInt(100);
            out.writeStringField("kind", kind < 90 ? "person" : kind < 95 ? "guest" : kind < 99 ? "room" : "service");
            out.writeStringField("unit", "u" + random.nextInt(UNITS));
            if (random.nextInt(50) == 0) out.writeBooleanField("active", false);
            out.writeStringField(
                    "started",
                    (2008 + random.nextInt(18)) + "-0" + (1 + random.nextInt(9)) + "-" + (10 + random.nextInt(18)));
            if (full && random.nextInt(3) == 0) {
                out.writeArrayFieldStart("consents");
                out.writeStartObject();
                out.writeStringField("ring", RINGS.get(random.nextInt(RINGS.size() - 1)));
                out.writeStringField("at", "2026-10-0" + (1 + random.nextInt(9)) + "T08:00:00Z");
                out.writeEndObject();
                out.writeEndArray();
            }
            out.writeEndObject();
        }
        out.writeEndArray();
    }

    private void groups(JsonGenerator out, Random random) throws IOException {
        out.writeArrayFieldStart("groups");
        double least = Math.log(5);
        double most = Math.log(Math.max(6, accounts / 4.0));
        for (int g = 0; g < GROUPS; g++) {
            out.writeStartObject();
            out.writeStringField("id", "g" + g);
            out.writeStringField("name", "Group " + g);
            out.writeStringField("purpose", "access");
            out.writeArrayFieldStart("members");
            int size = (int) Math.exp(least + random.nextDouble() * (most - least));
            BitSet in = new BitSet(accounts);
            for (int i = 0; i < size; i++) in.set(random.nextInt(accounts));
            for (int a = in.nextSetBit(0); a >= 0; a = in.nextSetBit(a + 1)) out.writeString("account:a" + a);
            if (g > 0 && random.nextInt(10) == 0) out.writeString("group:g" + random.nextInt(g));
            out.writeEndArray();
            out.writeEndObject();
        }
        out.writeEndArray();
    }

    private void catalogue(JsonGenerator out, Random random) throws IOException {
        out.writeObjectFieldStart("catalogue");
        list(out, "apps", 20, "app");
        if (full) list(out, "entitlements", PLANS, "e");
        out.writeArrayFieldStart("settings");
        for (int s = 0; s < settings; s++) {
            out.writeStartObject();
            out.writeStringField("key", key(s));
            out.writeStringField("app", "app" + s % 20);
            out.writeStringField("title", title(s));
            boolean isSwitch = s % 2 == 0;
            out.writeStringField("type", isSwitch ? "switch" : "choice");
            if (isSwitch) {
                out.writeBooleanField("strict", false);
                out.writeBooleanField("default", true);
            } else {
                strings(out, "options", LEVELS);
                out.writeBooleanField("ordered", true);
                out.writeStringField("default", LEVELS.get(2));
            }
            if (full && s % 3 == 0 && s > 0) needs(out, s, isSwitch, random);
            out.writeEndObject();
        }
        if (full) {
            out.writeStartObject();
            out.writeStringField("key", "preview.ring");
            out.writeStringField("app", "app0");
            out.writeStringField("title", "Preview ring");
            out.writeStringField("type", "choice");
            strings(out, "options", RINGS);
            out.writeStringField("default", RINGS.get(RINGS.size() - 1));
            out.writeEndObject();
        }
        out.writeEndArray();
        out.writeEndObject();
    }

    static String key(int s) {
        return "s" + s;
    }

    private static void list(JsonGenerator out, String name, int count, String id) throws IOException {
        out.writeArrayFieldStart(name);
        for (int i = 0; i < count; i++) {
            out.writeStartObject();
            out.writeStringField("id", id + i);
            out.writeStringField("name", "Name " + i);
            out.writeEndObject();
        }
        out.writeEndArray();
    }

    private static void strings(JsonGenerator out, String name, List<String> texts) throws IOException {
        out.writeArrayFieldStart(name);
        for (String text : texts) out.writeString(text);
        out.writeEndArray();
    }

    private static void needs(JsonGenerator out, int s, boolean isSwitch, Random random) throws IOException {
        out.writeArrayFieldStart("needs");
        out.writeStartObject();
        int sort = s % 18 == 0 ? 2 : random.nextInt(5) < 3 ? 0 : 1;
        if (s < RELEASES * 3) out.writeBooleanField("release", true);
        else if (sort == 0) strings(out, "entitlement", List.of("e" + random.nextInt(PLANS)));
        else if (sort == 1) strings(out, "kind", List.of("person", "room"));
        else {
            out.writeStringField("setting", key(s - 2));
            if ((s - 2) % 2 == 0) out.writeBooleanField("is", true);
            else out.writeStringField("asLooseAs", LEVELS.get(1));
        }
        out.writeEndObject();
        out.writeEndArray();
        if (isSwitch) out.writeBooleanField("fallback", false);
        else out.writeStringField("fallback", LEVELS.get(0));
    }

    private void policies(JsonGenerator out, Random random) throws IOException {
        out.writeArrayFieldStart("policies");
        for (int p = 0; p < POLICIES; p++) {
            out.writeStartObject();
            out.writeStringField("id", "p" + p);
            out.writeStringField("name", "Policy " + p);
            out.writeArrayFieldStart("statements");
            int statements = 5 + random.nextInt(31);
            BitSet spoken = new BitSet();
            for (int i = 0; i < statements; i++) {
                int s = random.nextInt(settings);
                if (spoken.get(s)) continue;
                spoken.set(s);
                int how = full ? random.nextInt(10) : 9;
                out.writeStartObject();
                out.writeStringField("setting", key(s));
                out.writeFieldName(how == 1 ? "cap" : "set");
                if (s % 2 == 0) out.writeBoolean(random.nextBoolean());
                else out.writeString(LEVELS.get(random.nextInt(LEVELS.size())));
                if (how == 0) out.writeBooleanField("lock", true);
                out.writeEndObject();
            }
            if (full && p < 2 * RINGS.size()) {
                out.writeStartObject();
                out.writeStringField("setting", "preview.ring");
                out.writeStringField("set", RINGS.get(p % RINGS.size()));
                out.writeEndObject();
            }
            out.writeEndArray();
            out.writeArrayFieldStart("assignments");
            if (p == 0) assignment(out, "include", "organisation");
            else for (int t = random.nextInt(3); t >= 0; t--) assignment(out, "include", target(random));
            if (random.nextInt(3) == 0) assignment(out, "except", "group:g" + random.nextInt(GROUPS));
            out.writeEndArray();
            out.writeEndObject();
        }
        out.writeEndArray();
        List<String> ranking = new ArrayList<>();
        for (int p = 0; p < POLICIES; p++) ranking.add("p" + p);
        Collections.shuffle(ranking, random);
        strings(out, "ranking", ranking);
    }

    private String target(Random random) {
        int sort = random.nextInt(20);
        if (sort == 0) return "organisation";
        if (sort < 8) return "unit:u" + (1 + random.nextInt(UNITS - 1));
        if (sort < 18) return "group:g" + random.nextInt(GROUPS);
        return "account:a" + random.nextInt(accounts);
    }

    private static void assignment(JsonGenerator out, String how, String target) throws IOException {
        out.writeStartObject();
        out.writeStringField(how, target);
        out.writeEndObject();
    }

    private void licences(JsonGenerator out, Random random) throws IOException {
        out.writeArrayFieldStart("plans");
        for (int l = 0; l < PLANS; l++) {
            out.writeStartObject();
            out.writeStringField("id", "l" + l);
            out.writeStringField("name", "Plan " + l);
            out.writeNumberField("seats", accounts / 20 + random.nextInt(accounts * 3 / 20 + 1));
            strings(out, "components", List.of("e" + l, "e" + (l + 1) % PLANS));
            strings(out, "kinds", List.of("person", "room"));
            out.writeArrayFieldStart("rules");
            for (int r = 0; r < 3; r++) assignment(out, "include", r == 2 ? "organisation" : target(random));
            out.writeEndArray();
            out.writeEndObject();
        }
        out.writeEndArray();
        out.writeArrayFieldStart("rings");
        for (int r = 0; r < RINGS.size(); r++) {
            out.writeStartObject();
            out.writeStringField("id", RINGS.get(r));
            out.writeStringField("name", RINGS.get(r));
            out.writeBooleanField("asksConsent", r < RINGS.size() - 1);
            out.writeEndObject();
        }
        out.writeEndArray();
        out.writeArrayFieldStart("releases");
        for (int s = 3; s < Math.min(RELEASES * 3, settings); s += 3) {
            out.writeStartObject();
            out.writeStringField("setting", key(s));
            out.writeObjectFieldStart("opens");
            for (int r = 0; r < RINGS.size(); r++)
                if (random.nextInt(3) > 0)
                    out.writeStringField(RINGS.get(r), "2026-1" + random.nextInt(3) + "-" + (10 + r) + "T08:00:00Z");
            out.writeEndObject();
            out.writeEndObject();
        }
        out.writeEndArray();
    }
}
