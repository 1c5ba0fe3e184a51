import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Comparator;
import java.util.HexFormat;
import java.util.List;
import java.util.stream.Stream;
import org.flywaydb.core.Flyway;
import org.jooq.codegen.GenerationTool;
import org.jooq.meta.jaxb.Configuration;
import org.jooq.meta.jaxb.Database;
import org.jooq.meta.jaxb.Generate;
import org.jooq.meta.jaxb.Generator;
import org.jooq.meta.jaxb.Jdbc;
import org.jooq.meta.jaxb.Target;

/**
 * Generates the classes of the tables from the migrations: starts a PostgreSQL of its own, migrates it, and has jOOQ read it. Does nothing where
 * the classes are those of the same migrations. Arguments: the folder of the module, and the folder to generate into.
 */
final class SchemaGenerator {
    private SchemaGenerator() {}

    public static void main(String[] arguments) throws Exception {
        Path module = Path.of(arguments[0]);
        Path generated = Path.of(arguments[1]);
        Path migrations = module.resolve("src/main/resources/db/migration");
        Path stamp = generated.resolve("migrations.sha256");
        String digest = digest(migrations);
        if (Files.exists(stamp) && Files.readString(stamp).equals(digest)) return;
        awaitInstallation();
        Path postgres = Files.createTempDirectory("schema");
        Path script = module.resolveSibling("scripts/postgres.sh");
        try {
            run(script, "start", postgres, "--throw-away");
            List<String> connection = Files.readAllLines(postgres.resolve("connection"));
            Flyway.configure()
                    .dataSource(connection.get(0), connection.get(1), connection.get(2))
                    .locations("filesystem:" + migrations)
                    .load()
                    .migrate();
            GenerationTool.generate(configuration(connection, generated));
            Files.writeString(stamp, digest);
        } finally {
            run(script, "stop", postgres);
            try (Stream<Path> files = Files.walk(postgres)) {
                files.sorted(Comparator.reverseOrder()).forEach(file -> file.toFile().delete());
            }
        }
    }

    /** Waits for the process that installs PostgreSQL meanwhile, where there is one. */
    private static void awaitInstallation() {
        String installer = System.getenv("LADDER_POSTGRES_INSTALLER");
        if (installer != null)
            ProcessHandle.of(Long.parseLong(installer)).ifPresent(process -> process.onExit().join());
    }

    private static Configuration configuration(List<String> connection, Path generated) {
        return new Configuration()
                .withJdbc(new Jdbc()
                        .withUrl(connection.get(0))
                        .withUser(connection.get(1))
                        .withPassword(connection.get(2)))
                .withGenerator(new Generator()
                        .withDatabase(new Database()
                                .withName("org.jooq.meta.postgres.PostgresDatabase")
                                .withInputSchema("public")
                                .withOutputSchemaToDefault(true)
                                .withExcludes("flyway_schema_history"))
                        .withGenerate(new Generate()
                                .withRecords(false)
                                .withKeys(false)
                                .withIndexes(false)
                                .withSequences(false)
                                .withGeneratedAnnotation(false))
                        .withTarget(new Target()
                                .withPackageName("leanladder.store.schema")
                                .withDirectory(generated.toString())));
    }

    private static String digest(Path migrations) throws IOException, NoSuchAlgorithmException {
        MessageDigest digest = MessageDigest.getInstance("SHA-256");
        try (Stream<Path> files = Files.list(migrations)) {
            for (Path file : files.sorted().toList()) {
                digest.update(file.getFileName().toString().getBytes(StandardCharsets.UTF_8));
                digest.update(Files.readAllBytes(file));
            }
        }
        return HexFormat.of().formatHex(digest.digest());
    }

    private static void run(Path script, Object... arguments) throws IOException, InterruptedException {
        Stream<String> command =
                Stream.concat(Stream.of("bash", script.toString()), Stream.of(arguments).map(Object::toString));
        Process process = new ProcessBuilder(command.toList()).inheritIO().start();
        if (process.waitFor() != 0) throw new IOException(script + " failed: " + List.of(arguments));
    }
}
