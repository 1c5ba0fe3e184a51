package leanladder.estate.read;

import com.fasterxml.jackson.core.JsonLocation;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.JsonToken;
import com.fasterxml.jackson.core.exc.StreamConstraintsException;
import com.fasterxml.jackson.core.io.JsonEOFException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.InterruptedIOException;
import java.io.Reader;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Base64;
import java.util.Collections;
import java.util.Deque;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Iterator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.function.BiConsumer;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import leanladder.catalogue.Catalogue;
import leanladder.catalogue.CatalogueFrame;
import leanladder.catalogue.CatalogueReader;
import leanladder.catalogue.RingSettings;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.estate.Consent;
import leanladder.estate.Estate;
import leanladder.estate.Feedback;
import leanladder.estate.Organisation;
import leanladder.estate.Plan;
import leanladder.estate.Policy;
import leanladder.estate.Release;
import leanladder.estate.Ring;
import leanladder.estate.Track;
import leanladder.json.BigDecimalParser;
import leanladder.json.Defect;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import org.jspecify.annotations.Nullable;

/**
 * Reads an estate file, element by element, and finds every defect of it (estate-format.md). The long lists are never held
 * as trees: of each element only what decides outcomes is kept, and the element itself is handed to whoever stores it.
 */
public final class EstateReader {
    /** The lists whose elements are kept as trees until the file is read. */
    private static final Set<Section> KEPT = EnumSet.complementOf(
            EnumSet.of(Section.UNITS, Section.ACCOUNTS, Section.GROUPS, Section.WORKSPACES, Section.HOSTINGS));

    private final Defects defects = new Defects();
    private final DirectoryReader directory;
    private final Map<Section, List<JsonCursor>> later = new HashMap<>();
    private final Map<Integer, List<Plan.Holder>> holders = new HashMap<>();
    private final ObjectNode frame = Json.NODES.objectNode();
    private final Optional<Consumer<EntityRecord>> parts;
    private final Iterator<List<String>> accountTexts;
    private final Iterator<List<String>> groupTexts;
    private final long most;
    private final boolean stored;
    private boolean stoppedEarly = true;

    private EstateReader(
            Optional<Consumer<EntityRecord>> parts,
            Iterator<List<String>> accountTexts,
            Iterator<List<String>> groupTexts,
            boolean stored,
            long most) {
        this.most = most;
        this.stored = stored;
        this.directory = new DirectoryReader(defects, !stored);
        this.parts = parts;
        this.accountTexts = accountTexts;
        this.groupTexts = groupTexts;
    }

    /**
     * What reading gives.
     *
     * @param frame the file without the elements of its lists, see {@link Section}
     * @param warnings what is doubtful but no defect
     */
    public record Result(Estate estate, ObjectNode frame, List<Defect> warnings) {}

    /**
     * Reads and checks a whole file.
     *
     * @throws InvalidEstateException with every defect found; of a file that is not JSON, the first place where it is not
     * @throws IOException when the stream cannot be read
     */
    public static Result read(InputStream in) throws IOException, InvalidEstateException {
        return new EstateReader(
                        Optional.empty(),
                        Collections.emptyIterator(),
                        Collections.emptyIterator(),
                        false,
                        JsonTreeReader.most())
                .readAll(in);
    }

    /**
     * Reads and checks a whole file and hands every element on as it is met, before the whole is known to be valid.
     *
     * @throws InvalidEstateException with every defect found; of a file that is not JSON, the first place where it is not
     * @throws IOException when the stream cannot be read
     */
    public static Result read(InputStream in, Consumer<EntityRecord> parts) throws IOException, InvalidEstateException {
        return new EstateReader(
                        Optional.of(parts),
                        Collections.emptyIterator(),
                        Collections.emptyIterator(),
                        false,
                        JsonTreeReader.most())
                .readAll(in);
    }

    /**
     * Reads and checks a stored estate. Its accounts and groups come by themselves: they can be nearly all of a large estate, and are read on
     * all cores; in the file their lists are empty. What earlier versions stored may be nested deeper than files are, see {@link
     * leanladder.estate.Nesting#excess}.
     *
     * @param accounts the JSON texts of the accounts, some at a time
     * @param groups those of the groups
     * @throws InvalidEstateException with every defect found; of a file that is not JSON, the first place where it is not
     * @throws IOException when the stream cannot be read
     */
    public static Result read(InputStream in, Iterator<List<String>> accounts, Iterator<List<String>> groups)
            throws IOException, InvalidEstateException {
        return new EstateReader(Optional.empty(), accounts, groups, true, JsonTreeReader.most()).readAll(in);
    }

    /** The same for a stored estate that comes as one file. */
    public static Result readStored(InputStream in) throws IOException, InvalidEstateException {
        return read(in, Collections.emptyIterator(), Collections.emptyIterator());
    }

    /** The same as {@link #read(InputStream)} with a bound of its own for what is held, see {@link JsonTreeReader#most()}. */
    static Result read(InputStream in, long most) throws IOException, InvalidEstateException {
        return new EstateReader(Optional.empty(), Collections.emptyIterator(), Collections.emptyIterator(), false, most)
                .readAll(in);
    }

    private Result readAll(InputStream in) throws IOException, InvalidEstateException {
        var decoder = StandardCharsets.UTF_8
                .newDecoder()
                .onMalformedInput(CodingErrorAction.REPORT)
                .onUnmappableCharacter(CodingErrorAction.REPORT);
        try (Reader reader = new InputStreamReader(in, decoder);
                JsonParser parser = new BigDecimalParser(Json.FACTORY.createParser(reader))) {
            try {
                readDocument(parser);
            } catch (CharacterCodingException e) {
                defects.add(at(parser), "is not UTF-8 text; save the file in that encoding");
            } catch (JsonTreeReader.ValueLimitException e) {
                defects.add("", String.valueOf(e.getMessage()));
            } catch (JsonProcessingException e) {
                defects.add(at(parser), "is not JSON that can be read here: " + reason(e) + where(e.getLocation()));
            }
        }
        if (stoppedEarly) throw new InvalidEstateException(defects.all());
        Optional<Estate> estate = assemble();
        if (estate.isEmpty()) throw new InvalidEstateException(defects.all());
        return new Result(estate.get(), frame, defects.warnings());
    }

    private void readDocument(JsonParser parser) throws IOException {
        if (parser.nextToken() == null) {
            defects.add("", "is empty; an estate file holds one JSON object");
            return;
        }
        if (parser.currentToken() != JsonToken.START_OBJECT) {
            defects.add("", "must be one JSON object");
            return;
        }
        JsonTreeReader jsonTreeReader = new JsonTreeReader(parser, defects, most);
        Set<String> met = new HashSet<>();
        while (parser.nextToken() == JsonToken.FIELD_NAME) {
            String name = jsonTreeReader.memberName("");
            String pointer = JsonCursor.pointer("", name);
            Optional<Section> section = Section.topLevel(name);
            parser.nextToken();
            if (!met.add(name)) {
                jsonTreeReader.repeated(pointer, name);
                parser.skipChildren();
            } else if (section.isPresent() && parser.currentToken() == JsonToken.START_ARRAY) {
                readSection(parser, jsonTreeReader, section.get(), pointer);
                frame.set(name, Json.NODES.arrayNode());
            } else {
                frame.set(name, jsonTreeReader.value(pointer));
                jsonTreeReader.elementEnds(true);
            }
        }
        readTexts(accountTexts, "/accounts", this::readAccount, directory::account);
        readTexts(groupTexts, "/groups", this::readGroup, directory::group);
        if (parser.nextToken() != null)
            defects.add("", "goes on after the end of the JSON object; remove what follows it");
        else stoppedEarly = false;
    }

    private void readSection(JsonParser parser, JsonTreeReader jsonTreeReader, Section section, String pointer)
            throws IOException {
        MemberIdPool members = new MemberIdPool();
        for (int i = 0; parser.nextToken() != JsonToken.END_ARRAY; i++) {
            String at = pointer + "/" + i;
            JsonNode node = switch (section) {
                case PLANS -> withoutHolders(jsonTreeReader, at, i);
                case GROUPS -> withoutMembers(jsonTreeReader, at, members);
                default -> jsonTreeReader.value(at);
            };
            JsonCursor jsonCursor = new JsonCursor(node, at, defects);
            hand(section, node);
            switch (section) {
                case UNITS -> directory.unit(jsonCursor);
                case ACCOUNTS -> directory.account(jsonCursor);
                case GROUPS -> directory.group(jsonCursor, directory.read(jsonCursor, members));
                case WORKSPACES -> directory.workspace(jsonCursor);
                case HOSTINGS -> directory.hosting(jsonCursor);
                default ->
                    later.computeIfAbsent(section, s -> new ArrayList<>()).add(jsonCursor);
            }
            jsonTreeReader.elementEnds(KEPT.contains(section));
        }
    }

    /** What was read of an element, and where it stands: with defects of its own. */
    private record ParsedElement<T>(JsonCursor place, T what) {}

    /** Reads an element that is the next value of trees. */
    private interface ElementParser<T> {
        ParsedElement<T> read(JsonTreeReader jsonTreeReader, String at, int characters) throws IOException;
    }

    /** Reads elements that come by themselves, on threads of their own, and takes them in their order. */
    private <T> void readTexts(
            Iterator<List<String>> texts,
            String pointer,
            ElementParser<T> elementParser,
            BiConsumer<JsonCursor, T> taking)
            throws IOException {
        if (!texts.hasNext()) return;
        int cores = Runtime.getRuntime().availableProcessors();
        ExecutorService readers = Executors.newFixedThreadPool(cores);
        try {
            Deque<Future<List<ParsedElement<T>>>> underWay = new ArrayDeque<>();
            int met = 0;
            while (texts.hasNext() || !underWay.isEmpty()) {
                while (underWay.size() < 2 * cores && texts.hasNext()) {
                    List<String> some = texts.next();
                    int first = met;
                    met += some.size();
                    underWay.add(readers.submit(() -> readSome(some, first, pointer, elementParser)));
                }
                for (ParsedElement<T> parsedElement : underWay.remove().get()) {
                    JsonCursor jsonCursor = parsedElement.place;
                    defects.add(jsonCursor.defects());
                    taking.accept(new JsonCursor(jsonCursor.node(), jsonCursor.pointer(), defects), parsedElement.what);
                }
            }
        } catch (ExecutionException failed) {
            if (failed.getCause() instanceof IOException e) throw e;
            if (failed.getCause() instanceof Error e) throw e;
            throw (RuntimeException) failed.getCause();
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new InterruptedIOException();
        } finally {
            readers.shutdownNow();
        }
    }

    private static <T> List<ParsedElement<T>> readSome(
            List<String> texts, int first, String pointer, ElementParser<T> elementParser) throws IOException {
        List<ParsedElement<T>> all = new ArrayList<>(texts.size());
        for (String text : texts)
            try (JsonParser parser = new BigDecimalParser(Json.FACTORY.createParser(text))) {
                parser.nextToken();
                String at = pointer + "/" + (first + all.size());
                all.add(elementParser.read(new JsonTreeReader(parser, new Defects()), at, text.length()));
            }
        return all;
    }

    private ParsedElement<Optional<Account>> readAccount(JsonTreeReader jsonTreeReader, String at, int characters)
            throws IOException {
        JsonCursor jsonCursor = jsonTreeReader.place(jsonTreeReader.value(at), at);
        return new ParsedElement<>(jsonCursor, DirectoryReader.readAccount(jsonCursor));
    }

    private ParsedElement<DirectoryReader.ParsedGroup> readGroup(
            JsonTreeReader jsonTreeReader, String at, int characters) throws IOException {
        MemberIdPool members = new MemberIdPool(characters);
        JsonCursor jsonCursor = jsonTreeReader.place(
                jsonTreeReader.objectWithout("members", at, pointer -> jsonTreeReader.texts(pointer, members)), at);
        return new ParsedElement<>(jsonCursor, directory.read(jsonCursor, members));
    }

    /** The group at the current token; its members, of which there can be a hundred million in all, go by themselves unless somebody stores them. */
    private JsonNode withoutMembers(JsonTreeReader jsonTreeReader, String at, MemberIdPool members) throws IOException {
        members.clear();
        return parts.isPresent()
                ? jsonTreeReader.value(at)
                : jsonTreeReader.objectWithout("members", at, pointer -> jsonTreeReader.texts(pointer, members));
    }

    /** The plan at the current token; its holders, of which there can be millions, go by themselves. */
    private JsonNode withoutHolders(JsonTreeReader jsonTreeReader, String at, int plan) throws IOException {
        List<Plan.Holder> list = new ArrayList<>();
        holders.put(plan, list);
        return jsonTreeReader.objectWithout(
                "holders",
                at,
                holding -> jsonTreeReader.elements(holding, (node, pointer) -> {
                    Plan.@Nullable Holder holder = LicenceReader.holder(new JsonCursor(node, pointer, defects))
                            .orElse(null);
                    String known = holder == null ? null : directory.known.accounts.find(holder.account(), 0);
                    // An account that was met already lends its own text: one for all plans.
                    list.add(
                            holder == null || known == null
                                    ? holder
                                    : new Plan.Holder(known, holder.granted(), holder.source()));
                }));
    }

    /** The holders of a plan, checked now that all accounts are known. */
    private List<Plan.Holder> checkedHolders(int plan) {
        List<Plan.Holder> list = holders.getOrDefault(plan, List.of());
        Set<String> met = new HashSet<>(list.size() * 2);
        for (int i = 0; i < list.size(); i++) {
            if (list.get(i) == null) continue;
            String account = list.get(i).account();
            String pointer = "/plans/" + plan + "/holders/" + i + "/account";
            if (!directory.known.hasAccount(account))
                defects.add(pointer, "names the account \"" + account + "\", which does not exist");
            if (!met.add(account)) defects.add(pointer, "names \"" + account + "\" a second time among the holders");
        }
        return list;
    }

    private void hand(Section section, JsonNode node) {
        if (node instanceof ObjectNode body && body.path(section.key()).isTextual())
            parts.ifPresent(to ->
                    to.accept(new EntityRecord(section, body.get(section.key()).textValue(), body)));
    }

    /** Everything that needs the whole file: the catalogue, what speaks of it, and references both ways. Empty where there are defects. */
    private Optional<Estate> assemble() {
        JsonCursor root = new JsonCursor(frame, "", defects);
        root.required("format").ifPresent(p -> {
            if (!"lean-ladder-estate/1".equals(p.node().textValue())) p.defect("must be \"lean-ladder-estate/1\"");
        });
        for (Section section : List.of(
                Section.UNITS,
                Section.ACCOUNTS,
                Section.GROUPS,
                Section.WORKSPACES,
                Section.HOSTINGS,
                Section.POLICIES,
                Section.PLANS,
                Section.RELEASES,
                Section.FEEDBACK)) {
            root.member(section.member()).ifPresent(JsonCursor::items);
        }
        for (Section section : List.of(Section.UNITS, Section.ACCOUNTS)) root.required(section.member());
        if (root.member("units").filter(u -> u.node().isArray()).isPresent() && directory.units.isEmpty())
            defects.add("/units", "must hold at least the organisation's own unit");
        Optional<Organisation> organisation = root.required("organisation").map(directory::organisation);
        Set<String> ringIds = new HashSet<>();
        List<Ring> rings = LicenceReader.rings(root.items("rings"), ringIds);
        List<Track> tracks = tracks(root, ringIds);
        RingSettings ringSettings = ringSettings(rings, tracks);

        CatalogueReader catalogueReader = new CatalogueReader(defects);
        Optional<JsonCursor> cataloguePlace = root.required("catalogue");
        Catalogue catalogue = cataloguePlace
                .map(p -> catalogueReader.read(p, ringSettings))
                .orElse(new Catalogue(CatalogueFrame.EMPTY, List.of()));
        directory.known.pictures = pictures(root);
        cataloguePlace.ifPresent(p -> checkValues(p, catalogueReader));
        handSettings();
        directory.check(catalogue.frame());

        directory.known.settings = catalogueReader.keys();
        checkTrackSettings(root, catalogueReader);
        PolicyReader policyReader = new PolicyReader(catalogueReader::setting, directory.known);
        List<Policy> policies = new ArrayList<>();
        Set<String> policyIds = new HashSet<>();
        for (JsonCursor jsonCursor : later.getOrDefault(Section.POLICIES, List.of())) {
            policyReader.policy(jsonCursor).ifPresent(policy -> {
                if (!policyIds.add(policy.id())) jsonCursor.repeats(policy.id());
                policies.add(policy);
                RungLint.warn(policy, jsonCursor, catalogueReader::setting, directory.known);
            });
        }
        List<String> ranking = ranking(root, policyIds);

        LicenceReader licences = new LicenceReader(catalogue.entitlements().keySet(), policyReader);
        List<Plan> plans = new ArrayList<>();
        Set<String> planIds = new HashSet<>();
        Map<String, List<Plan.Holder>> held = new HashMap<>();
        List<JsonCursor> planPlaces = later.getOrDefault(Section.PLANS, List.of());
        for (int i = 0; i < planPlaces.size(); i++) {
            JsonCursor jsonCursor = planPlaces.get(i);
            List<Plan.Holder> holding = checkedHolders(i);
            licences.plan(jsonCursor).ifPresent(plan -> {
                if (!planIds.add(plan.id())) jsonCursor.repeats(plan.id());
                plans.add(plan);
                if (!holding.isEmpty()) held.put(plan.id(), holding);
            });
        }
        List<Release> releases = new ArrayList<>();
        Set<String> released = new HashSet<>();
        for (JsonCursor jsonCursor : later.getOrDefault(Section.RELEASES, List.of())) {
            // What an earlier version took in is read all the same.
            if (!stored) ReleaseDetails.check(jsonCursor);
            licences.release(jsonCursor, track -> ringsOf(track, rings, tracks), directory.known::hasSetting)
                    .ifPresent(release -> {
                        if (!released.add(release.setting()))
                            jsonCursor
                                    .member("setting")
                                    .orElseThrow()
                                    .defect("repeats the setting \"" + release.setting()
                                            + "\"; it has a release already");
                        releases.add(release);
                    });
        }
        checkConsents(ringIds, released);
        List<Feedback> feedback = new ArrayList<>();
        Set<String> words = new HashSet<>();
        for (JsonCursor jsonCursor : later.getOrDefault(Section.FEEDBACK, List.of()))
            FeedbackReader.feedback(jsonCursor).ifPresent(word -> {
                if (!words.add(word.id())) jsonCursor.repeats(word.id());
                feedback.add(word);
            });
        if (!defects.isEmpty() || organisation.isEmpty()) return Optional.empty();
        return Optional.of(new Estate(
                organisation.get(),
                directory.units,
                directory.accounts,
                directory.groups,
                directory.workspaces,
                directory.hostings,
                catalogue,
                policies,
                ranking,
                plans,
                held,
                rings,
                tracks,
                releases,
                feedback,
                directory.known.pictures));
    }

    /** The hashes of the pictures whose contents stand beside the estate; a content that does not fit is reported. */
    private Set<String> pictures(JsonCursor root) {
        Set<String> hashes = new HashSet<>();
        root.member("media")
                .filter(JsonCursor::isObject)
                .ifPresent(media -> media.members().forEach((sha256, content) -> {
                    hashes.add(sha256);
                    content.text().ifPresent(text -> checkPicture(sha256, text, content));
                }));
        return hashes;
    }

    private static void checkPicture(String sha256, String base64, JsonCursor place) {
        byte[] content;
        try {
            content = Base64.getDecoder().decode(base64);
        } catch (IllegalArgumentException e) {
            place.defect("must be written in Base64");
            return;
        }
        if (!PictureContent.sha256(content).equals(sha256)) place.defect("is not what its hash says");
        PictureContent.problem(content).ifPresent(place::defect);
    }

    private static List<Track> tracks(JsonCursor root, Set<String> ringIds) {
        List<Track> tracks = new ArrayList<>();
        Set<String> ids = new HashSet<>();
        Set<String> settings = new HashSet<>();
        for (JsonCursor item : root.items("tracks"))
            LicenceReader.track(item, ringIds).ifPresent(track -> {
                if (!ids.add(track.id())) item.repeats(track.id());
                if (!settings.add(track.setting()))
                    item.member("setting").ifPresent(s -> s.defect("names the rings of another track already"));
                tracks.add(track);
            });
        return tracks;
    }

    private static Optional<Set<String>> ringsOf(String track, List<Ring> rings, List<Track> tracks) {
        if (track.isEmpty()) return Optional.of(ids(rings));
        return tracks.stream().filter(t -> t.id().equals(track)).findFirst().map(t -> ids(t.rings()));
    }

    private static Set<String> ids(List<Ring> rings) {
        return rings.stream().map(Ring::id).collect(Collectors.toSet());
    }

    /** Which settings name rings, and by which of them each release goes; releases are looked at before they are read. */
    private RingSettings ringSettings(List<Ring> rings, List<Track> tracks) {
        Map<String, List<String>> all = new HashMap<>();
        all.put(Setting.RING, rings.stream().map(Ring::id).toList());
        Map<String, String> settingOf = new HashMap<>();
        for (Track track : tracks) {
            all.putIfAbsent(
                    track.setting(), track.rings().stream().map(Ring::id).toList());
            settingOf.put(track.id(), track.setting());
        }
        Map<String, String> byRelease = new HashMap<>();
        for (JsonCursor release : later.getOrDefault(Section.RELEASES, List.of())) {
            String setting = settingOf.get(release.node().path("track").asText());
            if (setting != null) byRelease.put(release.node().path("setting").asText(), setting);
        }
        return new RingSettings(all, byRelease);
    }

    private void checkTrackSettings(JsonCursor root, CatalogueReader catalogue) {
        for (JsonCursor item : root.items("tracks"))
            item.member("setting")
                    .filter(s -> s.node().isTextual())
                    .filter(s -> !catalogue.keys().contains(s.node().textValue()))
                    .ifPresent(s -> s.defect(
                            "names the setting \"" + s.node().textValue() + "\", which the catalogue does not list"));
    }

    /** Checks that the catalogue's values of people name what exists. */
    private void checkValues(JsonCursor catalogue, CatalogueReader reader) {
        for (JsonCursor setting : catalogue.items("settings"))
            reader.setting(setting.node().path("key").asText())
                    .ifPresent(s -> ValueReferences.checkSetting(setting, s.type(), directory.known));
    }

    /** Hands the settings on as parts and leaves an empty list in the frame. */
    private void handSettings() {
        if (!(frame.get("catalogue") instanceof ObjectNode catalogue)
                || !catalogue.path("settings").isArray()) return;
        catalogue.get("settings").forEach(node -> hand(Section.SETTINGS, node));
        catalogue.set("settings", Json.NODES.arrayNode());
    }

    private void checkConsents(Set<String> ringIds, Set<String> released) {
        for (int i = 0; i < directory.accounts.size(); i++) {
            Account account = directory.accounts.get(i);
            if (account == null) continue;
            for (int j = 0; j < account.consents().size(); j++) {
                Consent consent = account.consents().get(j);
                if (consent == null) continue;
                String member = consent.to().member();
                boolean known =
                        (consent.to() == Consent.ConsentTarget.RING ? ringIds : released).contains(consent.id());
                if (!known)
                    defects.add(
                            "/accounts/" + i + "/consents/" + j + "/" + member,
                            "names the " + member + " \"" + consent.id() + "\", which does not exist");
            }
        }
    }

    private static List<String> ranking(JsonCursor root, Set<String> policyIds) {
        Set<String> ranking = new LinkedHashSet<>();
        for (JsonCursor item : root.items("ranking")) {
            Optional<String> id = item.id();
            if (id.isEmpty()) continue;
            if (!policyIds.contains(id.get()))
                item.defect("names the policy \"" + id.get() + "\", which does not exist");
            else if (!ranking.add(id.get())) item.defect("repeats the policy \"" + id.get() + "\"; each stands once");
        }
        return List.copyOf(ranking);
    }

    private static String at(JsonParser parser) {
        return parser.getParsingContext().pathAsPointer().toString();
    }

    private static String reason(JsonProcessingException e) {
        if (e instanceof JsonEOFException) return "it ends before it is complete";
        if (e instanceof StreamConstraintsException
                && String.valueOf(e.getMessage()).contains("nesting"))
            return "objects and lists stand more than " + Json.DEPTH + " deep inside one another";
        String message = e.getOriginalMessage();
        int end = message.indexOf('\n');
        return end < 0 ? message : message.substring(0, end);
    }

    private static String where(JsonLocation location) {
        return location == null ? "" : " (line " + location.getLineNr() + ", column " + location.getColumnNr() + ")";
    }
}
