package leanladder.server;

import java.text.Normalizer;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.estate.Unit;
import leanladder.reach.UnitTree;

/**
 * Finds accounts, units, groups, workspaces, settings and policies by the words that people use, forgiving typing errors.
 *
 * <p>Every document is a handful of words, each with a weight; a dictionary leads from a word to its documents. A word that is
 * asked for is held against every word of the dictionary: the same, its beginning, inside it, or one or two slips of the
 * keyboard away. A document is found when each word asked for meets one of its own. Cost: the different words of the estate for
 * each word asked for.
 */
final class SearchIndex {
    /** What can be found. */
    enum Kind {
        ACCOUNT,
        UNIT,
        GROUP,
        WORKSPACE,
        SETTING,
        POLICY;

        String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /**
     * Something found.
     *
     * @param context a few words that tell it from others of the same name
     */
    record Hit(Kind kind, String id, String title, String context, double score) {}

    /** A question as it was typed, read as a person or a place and a setting. */
    record Reading(Hit who, Hit what) {}

    private record Document(Kind kind, String id, String title, String context, int words) {}

    private record Posting(int document, double weight) {}

    private static final Set<String> FILLERS = Set.of(
            "may", "can", "could", "why", "why's", "not", "and", "is", "are", "the", "a", "an", "for", "of", "in", "on",
            "to", "does", "do", "has", "have", "what", "who", "how");
    private static final int READINGS = 5;
    private static final int UNITS_TOLD = 4;

    private final List<Document> documents = new ArrayList<>();
    private final Map<String, List<Posting>> dictionary = new HashMap<>();

    SearchIndex(Estate estate) {
        UnitTree tree = new UnitTree(estate.units());
        for (Account a : estate.accounts()) {
            String place = path(tree, a.unit());
            String context = (a.active() ? "" : "inactive · ")
                    + a.title().map(t -> t + " · ").orElse("")
                    + place;
            add(
                    Kind.ACCOUNT,
                    a.id(),
                    a.displayName(),
                    context,
                    List.of(
                            field(a.displayName(), 1),
                            field(a.userName(), 0.7),
                            field(a.title().orElse(""), 0.4),
                            field(place, 0.3)));
        }
        for (Unit u : estate.units())
            add(
                    Kind.UNIT,
                    u.id(),
                    u.name(),
                    u.parent().map(p -> path(tree, p)).orElse("the whole organisation"),
                    List.of(
                            field(u.name(), 1),
                            field(u.parent().map(p -> path(tree, p)).orElse(""), 0.5)));
        estate.groups()
                .forEach(g -> add(
                        Kind.GROUP,
                        g.id(),
                        g.name(),
                        g.access() ? "access group" : "mailing group",
                        List.of(field(g.name(), 1))));
        estate.workspaces()
                .forEach(w -> add(
                        Kind.WORKSPACE,
                        w.id(),
                        w.name(),
                        "workspace, size " + w.size() + (w.trial() ? ", on trial" : ""),
                        List.of(field(w.name(), 1))));
        for (Setting s : estate.catalogue().settings().values()) {
            String app = s.app().map(estate.catalogue().apps()::get).orElse("");
            List<Field> fields = new ArrayList<>(List.of(field(s.title(), 1), field(s.key(), 0.8), field(app, 0.6)));
            s.source().path("words").forEach(w -> fields.add(field(w.asText(), 0.8)));
            add(Kind.SETTING, s.key(), s.title(), app, fields);
        }
        estate.policies()
                .forEach(p -> add(
                        Kind.POLICY,
                        p.id(),
                        p.name(),
                        p.live() ? "policy" : "policy, paused",
                        List.of(field(p.name(), 1))));
    }

    /** The lowest units of a path, the organisation aside; a deep tree does not make long texts. */
    private static String path(UnitTree tree, String unit) {
        List<String> names = new ArrayList<>();
        for (Unit u = tree.unit(unit);
                names.size() < UNITS_TOLD;
                u = tree.unit(u.parent().get())) {
            if (u.parent().isEmpty()) {
                if (names.isEmpty()) names.add(u.name());
                break;
            }
            names.add(0, u.name());
        }
        return String.join(" › ", names);
    }

    private record Field(String text, double weight) {}

    private static Field field(String text, double weight) {
        return new Field(text, weight);
    }

    private void add(Kind kind, String id, String title, String context, List<Field> fields) {
        int number = documents.size();
        Map<String, Double> weights = new HashMap<>();
        for (Field f : fields) for (String word : words(f.text)) weights.merge(word, f.weight, Math::max);
        documents.add(new Document(kind, id, title, context, words(title).size()));
        weights.forEach((word, weight) ->
                dictionary.computeIfAbsent(word, k -> new ArrayList<>()).add(new Posting(number, weight)));
    }

    /** The words of a text, without case and accents. */
    static List<String> words(String text) {
        String plain = Normalizer.normalize(text, Normalizer.Form.NFD)
                .replaceAll("\\p{M}", "")
                .toLowerCase(Locale.ROOT)
                .replace('ł', 'l')
                .replace('ø', 'o')
                .replace('đ', 'd')
                .replace("ß", "ss");
        return java.util.Arrays.stream(plain.split("[^\\p{L}\\p{N}]+"))
                .filter(w -> !w.isEmpty())
                .toList();
    }

    /** What fits all words of the text, best first; of an empty text, nothing. */
    List<Hit> find(String text, Set<Kind> kinds, int most) {
        return find(words(text), kinds, most);
    }

    private List<Hit> find(List<String> asked, Set<Kind> kinds, int most) {
        if (asked.isEmpty()) return List.of();
        Map<Integer, Double> scores = null;
        for (String word : asked) {
            Map<Integer, Double> here = new HashMap<>();
            dictionary.forEach((known, postings) -> {
                double quality = quality(word, known);
                if (quality > 0)
                    for (Posting p : postings)
                        if (kinds.contains(documents.get(p.document).kind))
                            here.merge(p.document, quality * p.weight, Math::max);
            });
            if (scores == null) scores = here;
            else {
                scores.keySet().retainAll(here.keySet());
                scores.replaceAll((d, score) -> score + here.get(d));
            }
        }
        return scores.entrySet().stream()
                .map(e -> hit(e.getKey(), e.getValue() / asked.size(), asked))
                .sorted(Comparator.comparingDouble(Hit::score)
                        .reversed()
                        .thenComparing(Hit::title)
                        .thenComparing(Hit::id, leanladder.text.CodePointOrder.TEXTS))
                .limit(most)
                .toList();
    }

    private Hit hit(int number, double score, List<String> asked) {
        Document d = documents.get(number);
        double covered = Math.min(1, (double) asked.size() / Math.max(1, d.words));
        return new Hit(d.kind, d.id, d.title, d.context, score + 0.1 * covered);
    }

    /** Reads free typing such as "mirela private chat" as whom it is about and what is asked. */
    List<Reading> readings(String text) {
        List<String> asked =
                words(text).stream().filter(w -> !FILLERS.contains(w)).toList();
        Set<Kind> who = Set.of(Kind.ACCOUNT);
        List<Reading> readings = new ArrayList<>();
        for (int cut = 1; cut < asked.size(); cut++) {
            List<String> left = asked.subList(0, cut);
            List<String> right = asked.subList(cut, asked.size());
            pair(find(left, who, 2), find(right, Set.of(Kind.SETTING), 2), readings);
            pair(find(right, who, 2), find(left, Set.of(Kind.SETTING), 2), readings);
        }
        return readings.stream()
                .sorted(Comparator.comparingDouble((Reading r) -> r.who.score + r.what.score)
                        .reversed())
                .distinct()
                .limit(READINGS)
                .toList();
    }

    private static void pair(List<Hit> who, List<Hit> what, List<Reading> into) {
        for (Hit a : who) for (Hit b : what) into.add(new Reading(a, b));
    }

    /** How well a word asked for meets a word known, from 0 to 1. */
    static double quality(String asked, String known) {
        if (known.equals(asked)) return 1;
        if (known.startsWith(asked)) return 0.9;
        int length = asked.length();
        if (length >= 4 && Math.abs(length - known.length()) <= 2) {
            Optional<Integer> slips = slips(asked, known, length >= 7 ? 2 : 1);
            if (slips.isPresent()) return slips.get() == 1 ? 0.7 : 0.5;
        }
        if (length >= 3 && known.length() > length) {
            if (known.contains(asked)) return 0.5;
            if (length >= 5 && slips(asked, known.substring(0, length), 1).isPresent()) return 0.45;
        }
        return asked.length() >= 5 && known.length() >= 4 && asked.startsWith(known) ? 0.6 : 0;
    }

    /** How many letters are wrong, missing, too many or swapped, when no more than {@code most}. */
    private static Optional<Integer> slips(String a, String b, int most) {
        int[] before = new int[b.length() + 1];
        int[] row = new int[b.length() + 1];
        int[] twoBefore = new int[b.length() + 1];
        for (int j = 0; j <= b.length(); j++) before[j] = j;
        for (int i = 1; i <= a.length(); i++) {
            row[0] = i;
            int least = row[0];
            for (int j = 1; j <= b.length(); j++) {
                int cost = a.charAt(i - 1) == b.charAt(j - 1) ? 0 : 1;
                row[j] = Math.min(Math.min(row[j - 1] + 1, before[j] + 1), before[j - 1] + cost);
                boolean swapped =
                        i > 1 && j > 1 && a.charAt(i - 1) == b.charAt(j - 2) && a.charAt(i - 2) == b.charAt(j - 1);
                if (swapped) row[j] = Math.min(row[j], twoBefore[j - 2] + 1);
                least = Math.min(least, row[j]);
            }
            if (least > most) return Optional.empty();
            int[] spare = twoBefore;
            twoBefore = before;
            before = row;
            row = spare;
        }
        return before[b.length()] <= most ? Optional.of(before[b.length()]) : Optional.empty();
    }
}
