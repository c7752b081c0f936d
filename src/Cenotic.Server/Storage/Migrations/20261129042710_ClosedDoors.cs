using Microsoft.EntityFrameworkCore.Migrations;

#nullable disable

namespace Cenotic.Server.Storage.Migrations
{
    /// <inheritdoc />
    public partial class ClosedDoors : Migration
    {
        /// <inheritdoc />
        protected override void Up(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.AddColumn<long>(
                name: "JudgedAnywayArrival",
                table: "sites",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<long>(
                name: "JudgedAnywayMs",
                table: "sites",
                type: "INTEGER",
                nullable: true);

            migrationBuilder.AddColumn<long>(
                name: "Count",
                table: "refusals",
                type: "INTEGER",
                nullable: false,
                defaultValue: 1L);
        }

        /// <inheritdoc />
        protected override void Down(MigrationBuilder migrationBuilder)
        {
            migrationBuilder.DropColumn(
                name: "JudgedAnywayArrival",
                table: "sites");

            migrationBuilder.DropColumn(
                name: "JudgedAnywayMs",
                table: "sites");

            migrationBuilder.DropColumn(
                name: "Count",
                table: "refusals");
        }
    }
}
