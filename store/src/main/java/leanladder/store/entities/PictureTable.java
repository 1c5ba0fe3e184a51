package leanladder.store.entities;

import static leanladder.store.schema.Tables.CHANGE;
import static leanladder.store.schema.Tables.DRAFT_STEP;
import static leanladder.store.schema.Tables.PART;
import static leanladder.store.schema.Tables.PICTURE;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Duration;
import java.time.Instant;
import java.util.Base64;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.regex.Pattern;
import leanladder.estate.read.PictureContent;
import leanladder.estate.read.Section;
import leanladder.json.Json;
import leanladder.store.db.Database;
import leanladder.store.db.PgText;
import leanladder.store.db.Schema;
import leanladder.store.db.WriteRequest;
import org.jooq.Condition;
import org.jooq.DSLContext;
import org.jooq.Field;
import org.jooq.JSON;
import org.jooq.impl.DSL;

/**
 * The contents of pictures, each called by its SHA-256 (estate-format.md). A content is stored before an edit names it. A content
 * that nothing ever named is removed after 30 days. A content that a past state names stays, so that the past can be shown.
 */
public final class PictureTable {
    /** How long a content stays that nothing names. */
    public static final Duration UNUSED = Duration.ofDays(30);

    /** The member of the estate file that holds the contents. */
    static final String MEDIA = "media";

    private static final Pattern NAMED = Pattern.compile("\"sha256\"\\s*:\\s*\"([0-9a-f]{64})\"");
    /** The sections whose parts can name pictures: statements, built-in values, and states of families. */
    private static final List<String> NAMING =
            List.of(Section.POLICIES.member(), Section.SETTINGS.member(), StoredEntity.CATALOGUE, StoredEntity.FRAME);

    private final Database database;

    /** The pictures in a database. */
    public PictureTable(Database database) {
        this.database = database;
    }

    /** Stores a content, where it is not stored yet. @return the number by which {@link #sha256} finds it */
    public long put(WriteRequest writeRequest, byte[] content) {
        return database.write(writeRequest, tx -> {
            insert(tx, content, writeRequest.at());
            return Objects.requireNonNull(tx.select(PICTURE.ID)
                    .from(PICTURE)
                    .where(PICTURE.SHA256.eq(PictureContent.sha256(content)))
                    .fetchOne(PICTURE.ID));
        });
    }

    /** One that is stored already counts as added now, so that it stays until an edit names it. */
    private static void insert(DSLContext on, byte[] content, Instant at) {
        on.insertInto(PICTURE)
                .columns(PICTURE.SHA256, PICTURE.CONTENT, PICTURE.ADDED)
                .values(PictureContent.sha256(content), content, Schema.micros(at))
                .onConflict(PICTURE.SHA256)
                .doUpdate()
                .set(PICTURE.ADDED, Schema.micros(at))
                .execute();
    }

    /** The SHA-256 of the content with a number. */
    public Optional<String> sha256(long number) {
        return database.read(on -> on.select(PICTURE.SHA256)
                .from(PICTURE)
                .where(PICTURE.ID.eq(number))
                .fetchOptional(PICTURE.SHA256));
    }

    /** Moves the contents from the frame of an estate file to the table. */
    public void moveFromFrame(ObjectNode frame, Instant at) {
        if (frame.remove(MEDIA) instanceof ObjectNode media) putAll(media, at);
    }

    /** Stores contents that are written as in the estate file. */
    public void putAll(ObjectNode media, Instant at) {
        media.properties()
                .forEach(m -> database.read(on -> {
                    insert(on, Base64.getDecoder().decode(m.getValue().asText()), at);
                    return m;
                }));
    }

    /** A content, where it is stored. */
    public Optional<byte[]> content(String sha256) {
        return database.read(on -> on.select(PICTURE.CONTENT)
                .from(PICTURE)
                .where(PICTURE.SHA256.eq(PgText.stored(sha256)))
                .fetchOptional(PICTURE.CONTENT));
    }

    /** Whether a content is stored. */
    public boolean has(String sha256) {
        return database.read(on -> on.fetchExists(PICTURE, PICTURE.SHA256.eq(PgText.stored(sha256))));
    }

    /** All contents as the estate file writes them. */
    public ObjectNode media() {
        ObjectNode media = Json.NODES.objectNode();
        database.read(on -> {
            on.select(PICTURE.SHA256, PICTURE.CONTENT)
                    .from(PICTURE)
                    .forEach(row -> media.put(row.value1(), Base64.getEncoder().encodeToString(row.value2())));
            return null;
        });
        return media;
    }

    /** Removes pictures that were stored long ago and that neither a state of the estate nor a draft names. */
    public void removeUnused(Instant now) {
        database.read(on -> on.deleteFrom(PICTURE)
                .where(
                        PICTURE.ADDED.lt(Schema.micros(now.minus(UNUSED))),
                        DSL.notExists(DSL.selectOne().from(PART).where(PART.SECTION.in(NAMING), names(PART.BODY))),
                        DSL.notExists(DSL.selectOne().from(CHANGE).where(names(CHANGE.EDITS))),
                        DSL.notExists(DSL.selectOne().from(DRAFT_STEP).where(names(DRAFT_STEP.STEP))))
                .execute());
    }

    /** Whether a stored JSON text names the picture of the row. */
    private static Condition names(Field<JSON> text) {
        return DSL.position(text.cast(String.class), PICTURE.SHA256).gt(0);
    }

    /** The contents that values of the estate named after a change, as the estate file writes them. */
    static ObjectNode findNamed(DSLContext tx, long asOf) {
        ObjectNode media = Json.NODES.objectNode();
        List<String> hashes = tx
                .select(PART.BODY)
                .from(PART)
                .where(
                        EntityTable.SPAN.holdsAt(asOf),
                        PART.SECTION.in(NAMING),
                        DSL.position(PART.BODY.cast(String.class), "\"sha256\"").gt(0))
                .fetch(PART.BODY)
                .stream()
                .flatMap(body -> NAMED.matcher(body.data()).results())
                .map(found -> found.group(1))
                .distinct()
                .sorted()
                .toList();
        if (hashes.isEmpty()) return media;
        tx.select(PICTURE.SHA256, PICTURE.CONTENT)
                .from(PICTURE)
                .where(PICTURE.SHA256.in(hashes))
                .orderBy(PICTURE.SHA256)
                .forEach(row -> media.put(row.value1(), Base64.getEncoder().encodeToString(row.value2())));
        return media;
    }
}
