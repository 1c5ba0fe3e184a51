package leanladder;

import static com.tngtech.archunit.lang.syntax.ArchRuleDefinition.noClasses;

import com.tngtech.archunit.core.domain.JavaClasses;
import com.tngtech.archunit.core.importer.ClassFileImporter;
import com.tngtech.archunit.core.importer.ImportOption;
import com.tngtech.archunit.library.dependencies.SlicesRuleDefinition;
import java.time.Clock;
import java.time.Instant;
import org.junit.jupiter.api.Test;

/** The dependency arrows go one way, and the core has no clock. */
class ArrowsTest {
    private static final JavaClasses CORE = new ClassFileImporter()
            .withImportOption(new ImportOption.DoNotIncludeTests())
            .importPackages("leanladder");

    @Test
    void theCoreKnowsNoOtherRoom() {
        noClasses()
                .should()
                .dependOnClassesThat()
                .resideInAnyPackage(
                        "leanladder.store..",
                        "leanladder.server..",
                        "leanladder.cli..",
                        "java.sql..",
                        "io.javalin..",
                        "java.net.http..")
                .check(CORE);
    }

    @Test
    void theCoreHasNoClock() {
        noClasses().should().dependOnClassesThat().areAssignableTo(Clock.class).check(CORE);
        noClasses()
                .should()
                .callMethod(Instant.class, "now")
                .orShould()
                .callMethod(System.class, "currentTimeMillis")
                .check(CORE);
    }

    @Test
    void packagesOfTheCoreDoNotDependOnOneAnotherInCircles() {
        SlicesRuleDefinition.slices()
                .matching("leanladder.(*)..")
                .should()
                .beFreeOfCycles()
                .check(CORE);
    }
}
